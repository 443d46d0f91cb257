<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Proof;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Voice\Test\CallCover;
use Vorhut\Tests\Core\Voice\SwitchingTest;
use Vorhut\Tests\Support\Jobs;

/** Each route, trunk, way in and key of a menu once; never an emergency number. */
final class CallTestsTest extends TestCase
{
    /** @return array<string, ProofTest> code → test */
    private static function tests(Jobs $jobs): array
    {
        $tests = [];
        foreach (TestPlan::of($jobs->plan())->tests as $test) {
            if (str_starts_with($test->key, 'hand:pbx:') && 'hand:pbx:emergency-arranged' !== $test->key) {
                $tests[substr($test->key, 9)] = $test;
            }
        }

        return $tests;
    }

    public function testEverythingIsUsedOnceAndNoEmergencyEver(): void
    {
        $tests = self::tests(SwitchingTest::job());
        self::assertSame(
            ['route-abroad', 'route-home', 'route-fax', 'spare-t2', 'inbound-open', 'inbound-shut', 'menu-m-1', 'menu-m-2'],
            array_keys($tests),
        );
        foreach ($tests as $test) {
            self::assertTrue($test->isByHand());
            self::assertStringNotContainsString('112', (string) $test->title);
        }
        self::assertStringStartsWith(
            'Called from outside at Office hours, 4721000000 by Provider comes to 2200',
            (string) $tests['inbound-open']->title,
        );
        self::assertStringStartsWith('Called from outside when it is not Office hours', (string) $tests['inbound-shut']->title);
        self::assertStringStartsWith('P2101 dials a number through To the fax server (29xx)', (string) $tests['route-fax']->title);
    }

    public function testWhatIsForeseenIsWhatTheNetworkLetsThrough(): void
    {
        $expected = static fn (Jobs $jobs): array => array_map(
            static fn (ProofTest $one): bool => Outcome::Affirmed === $one->expectedOutcome(),
            self::tests($jobs),
        );
        $deaf = $expected(SwitchingTest::job());
        self::assertSame([false, false, true, true, false, false, true], array_values(\array_slice($deaf, 0, 7)));
        self::assertStringContainsString('No rule leads the sound', (string) self::tests(SwitchingTest::job())['route-home']->because());
        $mended = SwitchingTest::job()->row('settings', ['key' => 'devices/pbx#announcedAddress', 'planned' => '203.0.113.2'])
            ->row('translations', ['key' => 'm', 'router' => 'r', 'outside' => 'up', 'what' => 'forward', 'position' => 2,
                'inside' => '10.64.20.10', 'transport' => 'udp', 'portFirst' => 40000, 'portLast' => 40099]);
        self::assertSame(8, array_sum(array_map(intval(...), $expected($mended))));
        $off = $expected($mended->change('trunks', 't2', 'address', null));
        self::assertFalse($off['spare-t2']);
    }

    public function testPhonesOfAProviderCallEachOtherAndOutsideByAPerson(): void
    {
        $jobs = (new Jobs())->segment('v', '10.64.20.0/24', '10.64.20.1')->device('h', 'hosted-registrar', null);
        foreach (['2181', '2182', '2183'] as $i => $number) {
            $jobs->device('p'.$i, 'desk-phone-poe', 'v', ['address' => '10.64.20.3'.$i], ['mac' => '00-00-5E-00-53-0'.$i])
                ->number($number, 'p'.$i, '00-00-5E-00-53-0'.$i, [], 'h');
        }
        $plan = $jobs->plan();
        $tests = array_filter(TestPlan::of($plan)->tests, static fn (ProofTest $one): bool => null !== $one->called);
        $calls = array_values(array_map(static fn (ProofTest $one): string => "$one->caller>$one->called", $tests));
        self::assertSame(['2181>2182', '2182>2183', '2183>2181'], $calls);
        foreach ($tests as $test) {
            self::assertFalse($test->canBeAsked(false));
            self::assertStringContainsString('The provider decides where this call ends', (string) $test->covers);
        }
        $outside = TestPlan::of($plan)->test('hand:h:outside');
        self::assertStringStartsWith('P0 calls a number of your own outside', (string) $outside?->title);
        $cover = CallCover::of($plan, TestPlan::of($plan)->tests);
        self::assertSame([3, 3, 3], [$cover->phones, $cover->planned, $cover->least]);
    }

    public function testWhoMayNotUseARouteIsNotSentToTryIt(): void
    {
        $jobs = SwitchingTest::job();
        foreach (['2101', '2102', '2103'] as $number) {
            $jobs->change('extensions', 'x'.$number, 'permission', '2103' === $number ? 'international' : 'national');
        }
        self::assertStringStartsWith('P2103 calls', (string) self::tests($jobs)['route-abroad']->title);
        $jobs->change('extensions', 'x2103', 'permission', 'national');
        self::assertArrayNotHasKey('route-abroad', self::tests($jobs), 'nobody may');
    }
}
