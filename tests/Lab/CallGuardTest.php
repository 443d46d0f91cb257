<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\NetworkAccess;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Probe\VantagePoints;
use Vorhut\Tests\Core\Voice\SwitchingTest;

/** What a prober is told to call, it looks at once more itself: the plan may have changed since the order was given. */
final class CallGuardTest extends TestCase
{
    #[TestWith(['call:2103>2101', '112', true])]
    #[TestWith(['call:2103>2101', '112', false])]
    #[TestWith(['call:2103>2101', '041234567', true])]
    #[TestWith(['dial:2103>2101', '112', true])]
    #[TestWith(['dial:2103>2101', '0112', false])]
    public function testNothingIsSentForACallThatCouldEndElsewhere(string $test, string $forward, bool $onSite): void
    {
        $ordered = TestPlan::of(SwitchingTest::job()->plan())->test($test);
        self::assertNotNull($ordered);
        $plan = SwitchingTest::job()->change('extensions', 'x2101', 'forwardUnanswered', $forward)->plan();
        $access = $this->createMock(NetworkAccess::class);
        $access->method('isOnSite')->willReturn($onSite);
        $access->method('adapter')->willReturn(new Adapter('eth0', Ipv4::fromString('10.64.20.200')));
        $access->expects(self::never())->method('datagrams');
        $access->expects(self::never())->method('connect');

        $places = new VantagePoints($plan, $access);
        $evidence = (new TestRunner($access, $places, static fn (): string => 'secret'))->probe($ordered);

        self::assertSame(Outcome::NotAsked, $evidence->outcome);
        self::assertStringContainsString('2101 → '.$forward, (string) $evidence->detail);
    }
}
