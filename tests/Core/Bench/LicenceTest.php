<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Bench\LicenceNeed;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\FirmwareRules;
use Vorhut\Core\Catalogue\ModuleSlots;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** What is wanted by licence, what is there, and by when to order; which firmware may be used; what a slot gives. */
final class LicenceTest extends TestCase
{
    private static function fax(string $channels): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('f', 'fax-server', 's', ['address' => '10.64.30.40', 'channels' => $channels]);
        $jobs->job['startsOn'] = '2026-03-09';

        return $jobs;
    }

    private static function found(Plan $plan, string $code): ?Finding
    {
        return array_values(array_filter(
            Findings::of($plan, ShippedRules::all())->all,
            static fn (Finding $one): bool => $one->code === $code,
        ))[0] ?? null;
    }

    private static function waitsFor(Plan $plan): string
    {
        $sheet = RunSheet::of($plan, $plan->devices['f']);
        $step = $sheet->device->kind->step('channels') ?? throw new \LogicException();

        return implode(' ', $sheet->obstacles($step));
    }

    public function testTheNeedFollowsFromThePlanAndIsLiftedWhenTheKeyHasCome(): void
    {
        self::assertSame([], LicenceNeed::all(self::fax('2')->plan()), 'two come with it');
        self::assertSame('', self::waitsFor(self::fax('2')->plan()));
        $short = self::fax('6')->plan();
        $need = LicenceNeed::all($short)[0];
        self::assertSame([6, 2, 4], [$need->wanted, $need->there, $need->missing()]);
        self::assertSame(
            ['missing' => 4, 'days' => 5, 'day' => '2026-03-04'],
            array_intersect_key(self::found($short, 'licence-short')->todo->with ?? [], ['missing' => 0, 'day' => 0, 'days' => 0]),
        );
        self::assertStringContainsString('4 more are needed; the lead engineer orders them', self::waitsFor($short));
        $row = ['key' => 'l', 'device' => 'f', 'feature' => 'fax-channels', 'quantity' => 4, 'orderedOn' => '2026-03-02'];
        $ordered = self::fax('6')->row('licences', $row)->plan();
        self::assertSame('note', self::found($ordered, 'licence-short')?->severity->value);
        self::assertStringContainsString('ordered on 2026-03-02, not here yet', self::waitsFor($ordered));
        $here = self::fax('6')->row('licences', $row + ['arrivedOn' => '2026-03-06'])->plan();
        self::assertNull(self::found($here, 'licence-short'));
        self::assertSame('', self::waitsFor($here));
        self::assertNotNull(self::found(self::fax('8')->row('licences', $row + ['arrivedOn' => '2026-03-06'])->plan(), 'licence-short'));
    }

    #[TestWith(['6.0.196', '6.0.99', 1])]
    #[TestWith(['6.0', '6.0.0', 0])]
    #[TestWith(['6.0', '6.0.1', -1])]
    #[TestWith(['v10.2-b3', '10.2.3', 0])]
    #[TestWith(['9', '10', -1])]
    public function testVersionsAreComparedByTheirNumbers(string $a, string $b, int $by): void
    {
        self::assertSame($by, FirmwareRules::compare($a, $b));
    }

    public function testAFirmwareThatSomethingIsKnownAgainstBlocksAndOneTooOldIsARisk(): void
    {
        $camera = static fn (string $seen): Plan => (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.30.31', 'firmware.seen' => $seen])->plan();
        $severity = static fn (string $seen): ?string => self::found($camera($seen), 'firmware-unfit')?->severity->value;
        self::assertSame(['blocks', 'risk', null, null], [$severity('4.1.12'), $severity('4.0.99'), $severity('4.1.2'), $severity('4.10')]);
        self::assertStringContainsString('presets are lost', (string) self::found($camera('4.1.12'), 'firmware-unfit')?->why);
        $typed = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('cam', 'ptz-camera', 's', ['firmware.set' => '4.1.12'])->plan();
        self::assertNotNull(self::found($typed, 'firmware-unfit'), 'recorded by a person, it counts as well');
    }

    public function testWhatASocketIsFollowsFromTheModule(): void
    {
        $slots = Jobs::catalogue()->kind('on-site-pbx')?->modules;
        self::assertInstanceOf(ModuleSlots::class, $slots);
        self::assertSame(3, $slots->count('phone', ['two phones', 'empty', 'one of each']));
        self::assertSame(1, $slots->count('outside line', ['two phones', 'one of each']));
        self::assertSame(0, $slots->count('phone', ['mobile radio']));
    }

    public function testATemporaryUnlockOrdersNoCredentialsAndHasAnEnd(): void
    {
        $of = static fn (Plan $plan): array => [
            \count(LicenceNeed::all($plan)),
            self::found($plan, 'licence-short')?->code,
            null === ($ends = self::found($plan, 'unlock-ends')) ? null : (string) $ends->what,
        ];
        self::assertSame([1, 'licence-short', null], $of(self::controller(['unlocked' => 'yes'])));
        self::assertSame([0, null, 'M is unlocked for only 30 days.'], $of(self::controller(['unlocked' => 'for 30 days'])));
        $set = self::controller(['unlocked' => 'for 30 days', 'unlocked.set' => 'for 30 days']);
        $set = $set->with(new Change(new Message(''), [
            Edit::put('settings', 'devices/m#unlocked', 'setAt', null, '2026-02-20T10:00:00Z'),
        ]));
        self::assertSame('M is unlocked until 2026-03-22.', (string) self::found($set, 'unlock-ends')?->what);
        $sheet = RunSheet::of($set, $set->devices['m']);
        self::assertSame([], $sheet->obstacles($sheet->device->kind->step('unlock') ?? throw new \LogicException()));
    }

    /** @param array<string, string> $values */
    private static function controller(array $values): Plan
    {
        return (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')
            ->device('m', 'multi-room-controller', 's', ['address' => '10.64.30.60'] + $values)->plan();
    }
}
