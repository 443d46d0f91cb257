<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Finding;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\FindingGroup;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

final class FindingGroupTest extends TestCase
{
    /** @param array<string, array<string, string>> $cameras */
    private static function plan(array $cameras): Plan
    {
        $jobs = (new Jobs())
            ->segment('s', '10.64.30.0/24', '10.64.30.1', ['pools' => ['10.64.30.100-10.64.30.149']])
            ->router('r', ['s' => '10.64.30.1/24']);
        foreach ($cameras as $key => $values) {
            $jobs->device($key, 'ptz-camera', 's', $values);
        }

        return $jobs->plan();
    }

    private static function group(Plan $plan, string $code): FindingGroup
    {
        $groups = array_values(array_filter(
            FindingGroup::all(Findings::of($plan, ShippedRules::all())->all),
            static fn (FindingGroup $group): bool => $group->first()->code === $code,
        ));
        self::assertCount(1, $groups);

        return $groups[0];
    }

    /** @return list<string> */
    private static function codes(Plan $plan): array
    {
        return array_map(static fn (Finding $one): string => $one->code, Findings::of($plan, ShippedRules::all())->all);
    }

    public function testTheSameFindingOnManyDevicesIsOneEntryWithOneFix(): void
    {
        $plan = self::plan([
            'a' => ['address' => '10.64.30.31', 'gateway' => ''],
            'b' => ['address' => '10.64.30.32', 'gateway' => ''],
            'c' => ['address' => '10.64.30.33', 'gateway' => ''],
        ]);
        $group = self::group($plan, 'gateway-blank');
        self::assertSame(3, $group->count());
        self::assertNull($group->todo(), 'each device has its own, and the button says it');
        self::assertNotNull($group->cure());
        self::assertNotContains('gateway-blank', self::codes($plan->with($group->cure())));
        self::assertSame($group->key(), Findings::of($plan, ShippedRules::all())->group($group->key())?->key());
    }

    public function testAGroupThatHasChangedIsNotFoundUnderItsOldKey(): void
    {
        $two = ['a' => ['address' => '10.64.30.31', 'gateway' => ''], 'b' => ['address' => '10.64.30.32', 'gateway' => '']];
        $key = self::group(self::plan($two), 'gateway-blank')->key();
        $three = self::plan($two + ['c' => ['address' => '10.64.30.33', 'gateway' => '']]);
        self::assertNull(Findings::of($three, ShippedRules::all())->group($key));
    }

    public function testOneFindingIsAGroupWithItsOwnFix(): void
    {
        $findings = Findings::of(self::plan(['a' => ['address' => '10.64.30.31', 'gateway' => '']]), ShippedRules::all());
        $finding = array_values(array_filter($findings->all, static fn (Finding $one): bool => 'gateway-blank' === $one->code))[0];
        self::assertSame($finding->cure, $findings->group($finding->key())?->cure());
        self::assertSame($finding->todo, $finding->label());
    }

    public function testFixesThatProposeOneAddressForTwoDevicesAreNotMadeTogether(): void
    {
        $plan = self::plan(['a' => ['address' => '10.64.30.101'], 'b' => ['address' => '10.64.30.102']]);
        $group = self::group($plan, 'static-inside-pool');
        self::assertSame(2, $group->count());
        self::assertNotNull($group->first()->cure);
        self::assertNull($group->cure());
    }

    public function testAdviceThatIsTheSameForAllIsGivenOnce(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.30.0/24', '10.64.30.1')->router('r', ['s' => '10.64.30.1/24'])
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.30.10']);
        foreach (['p' => '2101', 'q' => '2102'] as $phone => $number) {
            $jobs->device($phone, 'desk-phone-poe', 's', ['address' => '10.64.30.'.substr($number, 2).'1'])
                ->number($number, $phone, null, ['location' => '']);
        }
        $group = self::group($jobs->plan(), 'no-emergency-location');
        self::assertSame([2, null], [$group->count(), $group->cure()]);
        self::assertSame($group->first()->todo, $group->todo());
    }
}
