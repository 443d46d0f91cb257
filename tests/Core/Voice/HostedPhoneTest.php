<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Board;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\TrackedValue;
use Vorhut\Tests\Support\Jobs;

/** A phone whose number is at a provider: what follows from that, and what can be known of it. */
final class HostedPhoneTest extends TestCase
{
    private const STRING = 'https://phones.example/p';

    /**
     * @param array<string, string> $registrar
     * @param array<string, string> $phone
     */
    private static function plan(array $registrar, array $phone = [], string $at = 'hr'): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('hr', 'hosted-registrar', null, $registrar)
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.40.10'])
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.40.31'] + $phone, ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', '00-00-5E-00-53-01', ['location' => 'x'], $at);
        $jobs->job += ['timeZone' => 'Europe/Oslo', 'filesAuthority' => str_repeat('a', 64)];

        return $jobs->plan();
    }

    private static function setting(Plan $plan, string $name): TrackedValue
    {
        return $plan->devices['p']->setting($name);
    }

    public function testItFetchesWhereItsProviderSaysWithoutBeingTold(): void
    {
        $here = self::plan([], [], 'pbx');
        self::assertSame('vorhut', self::setting($here, 'provisioning')->planned);
        self::assertSame('Europe/Oslo', self::setting($here, 'timeZone')->planned);
        self::assertNull($here->providerOf('p'));

        $hosted = self::plan(['provisioningString.seen' => self::STRING]);
        self::assertSame('hr', $hosted->providerOf('p'));
        self::assertSame(self::STRING, self::setting($hosted, 'provisioning')->planned);
        self::assertTrue(self::setting($hosted, 'provisioning')->inherited);
        self::assertSame([], array_filter(
            Findings::of($hosted, ShippedRules::all())->all,
            static fn (Finding $one): bool => 'fetches-elsewhere' === $one->code,
        ));
    }

    public function testItsSheetNeverShowsOurOwnServer(): void
    {
        foreach ([self::STRING => ['provisioningString.seen' => self::STRING], '' => []] as $url => $registrar) {
            $plan = self::plan($registrar);
            $sheet = RunSheet::of($plan, $plan->devices['p']);
            $step = $sheet->device->kind->step('server') ?? throw new \LogicException();
            $values = array_values(array_filter($sheet->values($step), static fn ($one): bool => 'url' === $one->name));
            self::assertCount(1, $values);
            self::assertFalse($values[0]->isServedHere);
            self::assertSame('' === $url ? null : $url, $values[0]->text);
            self::assertSame(
                '' === $url ? 'The provisioning string of HR: copy it there first.' : '',
                (string) $values[0]->reason,
            );
            self::assertNull($sheet->device->kind->step('none'));
            self::assertNotContains('trust', array_map(static fn ($one): string => $one->code, $sheet->device->steps));
        }
    }

    public function testWhatTheFileOfItsProviderSuppliesIsNotPlannedHere(): void
    {
        $plan = self::plan([], ['timeZone.seen' => 'Europe/London', 'codecs.seen' => 'G.711']);
        foreach (['timeZone', 'codecs'] as $name) {
            self::assertNull(self::setting($plan, $name)->planned);
            self::assertFalse(self::setting($plan, $name)->seenDiffers(), $name);
        }
        self::assertNotNull(self::setting($plan, 'transport')->effective(Face::Planned), 'by this it registers');
        $typed = self::plan([], ['timeZone' => 'Europe/Oslo', 'timeZone.seen' => 'Europe/London']);
        self::assertTrue(self::setting($typed, 'timeZone')->seenDiffers(), 'what somebody planned is compared');
    }

    public function testItIsFollowedByWhatCanBeKnown(): void
    {
        self::assertSame('waiting', Board::of(self::plan([]))->stateOf('p'));
        self::assertSame('registered', Board::of(self::plan([], ['registration.seen' => 'registered']))->stateOf('p'));
        self::assertSame('waiting', Board::of(self::plan([], ['registration.seen' => 'not registered']))->stateOf('p'));
        $ours = self::plan([], ['registration.seen' => 'registered'], 'pbx');
        self::assertSame('waiting', Board::of($ours)->stateOf('p'), 'one of ours has to fetch its file first');
    }
}
