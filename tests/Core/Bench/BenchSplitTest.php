<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\BenchRoom;
use Vorhut\Core\Bench\BenchSchedule;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Catalogue\PoeClass;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;
use Vorhut\Tests\Support\Jobs;

final class BenchSplitTest extends TestCase
{
    /** @return array<int, list<list<string>>> bench → devices of each of its stops */
    private static function benches(Queue $queue): array
    {
        $benches = [];
        foreach ($queue->stops as $stop) {
            $benches[$stop->bench][] = array_map(static fn (Device $device): string => $device->key, $stop->devices());
        }

        return $benches;
    }

    private static function cameras(int $count, int $benches): Jobs
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1');
        for ($n = 1; $n <= $count; ++$n) {
            $jobs->device('c'.$n, 'ptz-camera', 's', ['address' => '10.64.40.'.(30 + $n)]);
        }
        $jobs->job['benches'] = $benches;

        return $jobs;
    }

    public function testWhatComesWithOneAddressIsSharedOutAndEveryDeviceStandsAtOneBench(): void
    {
        $one = Queue::of(self::cameras(12, 1)->plan());
        $three = Queue::of(self::cameras(12, 3)->plan());

        self::assertCount(1, $one->stops);
        $benches = self::benches($three);
        self::assertSame([1, 2, 3], array_keys($benches));
        self::assertSame([4, 4, 4], array_map(static fn (array $stops): int => \count($stops[0]), array_values($benches)));
        $all = array_merge(...array_merge(...array_values($benches)));
        self::assertCount(12, array_unique($all));
        $longest = max(0, ...array_map(static fn (Stop $stop): int => $stop->timeline()->finish, $three->stops));
        self::assertLessThan($one->stops[0]->timeline()->finish / 2, $longest);
        self::assertSame([1, 2, 3], array_map(static fn (Stop $stop): int => $stop->number, $three->stops));
        foreach ($three->stops as $stop) {
            self::assertCount(1, $stop->lanes, 'at each bench they come with one address');
            self::assertNotNull($stop->laptop);
        }
    }

    public function testALaptopIsNotSetForWhatSavesLessThanThatTakes(): void
    {
        $queue = Queue::of(self::cameras(1, 2)->plan());
        self::assertSame([1 => [['c1']]], self::benches($queue));

        // Two networks: each bench takes one stop whole.
        $two = Queue::of(self::cameras(1, 2)->device('x', 'streaming-encoder', 's', ['address' => '10.64.40.90'])
            ->device('p', 'on-site-pbx', 's', ['address' => '10.64.40.91'])->plan());
        foreach (self::benches($two) as $stops) {
            self::assertSame([], array_filter($stops, static fn (array $stop): bool => [] === $stop));
        }
        self::assertGreaterThan(1, \count(self::benches($two)));
    }

    public function testEverybodyGoesOnAtTheBenchWhereTheyAre(): void
    {
        $jobs = self::cameras(8, 2);
        $bench = self::benches(Queue::of($jobs->plan()));
        $atTwo = $bench[2][0][0];
        $at = '2026-11-02T09:00:00Z';
        $plan = $jobs->row('marks', [
            'key' => $atTwo.'.unpack', 'device' => $atTwo, 'step' => 'unpack', 'state' => 'done', 'by' => 'Mara', 'at' => $at,
        ])->plan();
        $queue = Queue::of($plan);

        self::assertSame(2, $queue->currentFor($plan, 'Mara')?->bench);
        self::assertSame(1, $queue->currentFor($plan, 'Jonas')?->bench, 'where nobody has begun');
    }

    public function testWhatWaitsForAnotherBenchWaitsUntilThatOneIsDoneThere(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('pbx', 'on-site-pbx', 's', ['address' => '10.64.40.10']);
        $jobs->job['benches'] = 2;
        for ($n = 1; $n <= 9; ++$n) {
            $jobs->phone('p'.$n, 's', '10.64.40.'.(30 + $n), (string) (100 + $n));
        }
        $queue = Queue::of($jobs->plan());
        $pbx = $queue->stopOf('pbx');
        $phones = $queue->stopOf('p1');
        self::assertNotNull($pbx);
        self::assertNotNull($phones);
        self::assertNotSame($pbx->bench, $phones->bench);
        $ends = max(0, ...array_column($queue->day->timeline($pbx)->of('pbx'), 'waits'));
        $needs = array_filter($jobs->plan()->devices['p1']->steps, static fn (Step $step): bool => \in_array(
            'registrar-entry',
            array_map(static fn (Need $need): string => $need->word, $step->needs),
            true,
        ));
        $from = [];
        foreach ($queue->day->timeline($phones)->slots as $slot) {
            if (isset(array_column($needs, null, 'code')[$slot['step']])) {
                $from[] = $queue->day->begin($phones) + $slot['from'];
            }
        }
        self::assertNotSame([], $from);
        self::assertGreaterThanOrEqual($ends, min($from));
        self::assertGreaterThanOrEqual($queue->day->timeline($phones)->bound, $queue->day->timeline($phones)->finish);
        self::assertGreaterThan($phones->timeline()->finish, $queue->day->timeline($phones)->finish);
        self::assertStringContainsString('done at bench '.$pbx->bench, implode(' ', array_map(strval(...), $queue->day->waits($phones))));
        self::assertSame([], $queue->day->waits($pbx));

        $second = array_values(array_filter($queue->stops, static fn (Stop $stop): bool => $queue->day->begin($stop) > 0));
        foreach ($second as $stop) {
            self::assertGreaterThanOrEqual(BenchSchedule::MOVE, $queue->day->begin($stop));
        }
    }

    public function testTheSwitchSetsAsideWhatAClassWantsAndFeedsNothingElse(): void
    {
        $room = new BenchRoom(class: PoeClass::C3);
        $plan = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('phone', 'desk-phone-poe', 's')
            ->device('horn', 'paging-horn', 's')
            ->device('server', 'media-server', 's')->plan();
        self::assertSame(
            [7.0, 0.0, 0.0],
            array_map($room->allots(...), [$plan->devices['phone'], $plan->devices['horn'], $plan->devices['server']]),
        );
        self::assertSame(30.0, (new BenchRoom())->allots($plan->devices['horn']));
        self::assertSame(
            [false, true, false],
            array_map($room->cannotFeed(...), [$plan->devices['phone'], $plan->devices['horn'], $plan->devices['server']]),
        );
    }

    public function testWhatThePortsOfTheBenchCannotFeedIsSaidAtTheStop(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')->device('horn', 'paging-horn', 's', ['address' => '10.64.40.9']);
        $notes = static fn (): string => implode("\n", array_map(strval(...), Queue::of($jobs->plan())->stops[0]->notes));
        self::assertStringNotContainsString('injector', $notes());
        $jobs->job['benchClass'] = 3;
        self::assertStringContainsString('HORN (4): the ports of the bench switch feed up to PoE class 3', $notes());
        $jobs->job['benchClass'] = 4;
        self::assertStringNotContainsString('injector', $notes());
    }

    /** IEEE 802.3-2022, clauses 33 and 145: what the port gives and what arrives. */
    public function testClassesOfPower(): void
    {
        self::assertSame(
            [15.4, 4.0, 7.0, 15.4, 30.0, 45.0, 60.0, 75.0, 90.0],
            array_map(static fn (PoeClass $class): float => $class->atPort(), PoeClass::cases()),
        );
        self::assertSame(
            [12.95, 3.84, 6.49, 12.95, 25.5, 40.0, 51.0, 62.0, 71.3],
            array_map(static fn (PoeClass $class): float => $class->atDevice(), PoeClass::cases()),
        );
        self::assertSame([PoeClass::C1, PoeClass::C3, PoeClass::C4, null], array_map(PoeClass::for(...), [3.84, 12.95, 13.0, 71.4]));
        self::assertTrue(PoeClass::C0->isFedBy(PoeClass::C3));
        self::assertTrue(PoeClass::C3->isFedBy(PoeClass::C0));
        self::assertFalse(PoeClass::C4->isFedBy(PoeClass::C3));
    }
}
