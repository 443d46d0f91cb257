<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Voice;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\ProvisioningFile;
use Vorhut\Core\Voice\Registration;
use Vorhut\Tests\Support\Jobs;

/** What stands at a registrar: a telephone by its MAC, a program by its account. */
final class RegistrarEntryTest extends TestCase
{
    private const AT = '2026-03-01T09:00:00Z';

    private static function plan(string $kind, ?string $entered = null): Plan
    {
        $jobs = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('p', $kind, 's', ['address' => '10.64.20.31', 'provisioning.set' => 'vorhut'], ['mac' => '00-00-5E-00-53-01'])
            ->number('2101', 'p', $entered, ['location' => 'x']);
        $jobs->job += ['timeZone' => 'Europe/Oslo'];

        return $jobs->plan();
    }

    /** @return array{bool, bool, list<string>, string, bool} */
    private static function standing(Plan $plan): array
    {
        $extension = $plan->extensions['x2101'];
        $sheet = RunSheet::of($plan, $plan->devices['p']);
        $step = $sheet->device->kind->step('server') ?? throw new \LogicException();

        return [
            true === RegistrarEntry::of($plan, $extension, 'p')?->isEntered(),
            Registration::of(NetworkModel::of($plan, Face::Planned), $extension)->holds,
            array_map(strval(...), $sheet->obstacles($step)),
            (string) ProvisioningFile::obstacle($plan, $plan->devices['p']),
            [] !== array_filter(
                Findings::of($plan, ShippedRules::all())->all,
                static fn (Finding $one): bool => 'provisioned-before-entry' === $one->code,
            ),
        ];
    }

    private static function entered(Plan $plan): Plan
    {
        $edit = RegistrarEntry::of($plan, $plan->extensions['x2101'], 'p')?->markEntered(self::AT) ?? throw new \LogicException();

        return $plan->with(new Change(new Message(''), [$edit]));
    }

    public function testAProgramIsEnteredByItsAccountAndNeedsNoMac(): void
    {
        $plan = self::plan('soft-client');
        self::assertSame([
            false,
            false,
            ['The account of 2101 is not entered at the registrar: enter it there first, then here.'],
            'The account of 2101 is not entered at the registrar yet.',
            true,
        ], self::standing($plan));
        $after = self::entered($plan);
        self::assertSame([true, true, [], '', false], self::standing($after));
        self::assertNull($after->accountOf('x2101')?->macEntered);
        self::assertSame(self::AT, $after->accountOf('x2101')?->enteredAt);
    }

    public function testATelephoneIsEnteredByItsMac(): void
    {
        $plan = self::plan('desk-phone-poe');
        self::assertSame([false, false], \array_slice(self::standing($plan), 0, 2));
        self::assertSame('The MAC of P is not entered at the registrar for 2101 yet.', self::standing($plan)[3]);
        self::assertSame([true, true, [], '', false], self::standing(self::entered($plan)));
        $other = self::plan('desk-phone-poe', '00-00-5E-00-53-99');
        self::assertTrue(RegistrarEntry::of($other, $other->extensions['x2101'], 'p')?->isOfAnother());
        self::assertSame([true, false], \array_slice(self::standing($other), 0, 2), 'another telephone stands there');
    }
}
