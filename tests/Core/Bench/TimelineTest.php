<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Bench\BenchRoom;
use Vorhut\Core\Bench\BenchTask;
use Vorhut\Core\Bench\BestOrder;
use Vorhut\Core\Bench\CriticalPath;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\Timeline;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Tests\Support\BruteForce;
use Vorhut\Tests\Support\Jobs;

/** Few hands, many devices that start by themselves. */
final class TimelineTest extends TestCase
{
    private const KINDS = ['ptz-camera', 'streaming-encoder', 'room-codec', 'on-site-pbx', 'lighting-node', 'desk-phone-supply',
        'ring-alerter', 'managed-switch', 'media-server', 'touch-panel', 'console-card'];
    private const WAKING = ['192.168.1.100', '192.168.1.168', '192.168.1.2', '192.168.1.10', '192.168.1.111', '10.0.0.50'];

    /**
     * @param list<array{int, int}>     $parts  hands and wait; the second part powers it
     * @param int                       $leaves the last part that is powered
     * @param array<int, list<int>>     $after  part → pieces that have to be finished before
     * @param list<int>                 $clear
     */
    private static function piece(string $device, int $lane, array $parts, int $leaves = 1, array $after = [], array $clear = []): BenchTask
    {
        return new BenchTask($device, $lane, array_map(static fn (int $i): array => [
            'code' => "s$i",
            'hands' => $parts[$i][0],
            'wait' => $parts[$i][1],
            'powered' => $i > 0 && $i <= $leaves,
            'after' => $after[$i] ?? [],
            'from' => 0,
        ], array_keys($parts)), $clear);
    }

    public function testOfFewDevicesTheShortestOrderIsFound(): void
    {
        $tried = 0;
        for ($seed = 1; $seed <= 500; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $jobs = (new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')->segment('t', '10.64.0.0/24', '10.64.0.1');
            for ($i = $chance->getInt(1, 7); $i > 0; --$i) {
                $target = 0 === $chance->getInt(0, 3) ? self::WAKING[$chance->getInt(0, 5)] : '10.64.0.'.(20 + $i);
                $kind = self::KINDS[$chance->getInt(0, \count(self::KINDS) - 1)];
                $jobs->device("d$i", $kind, 0 === $chance->getInt(0, 3) ? 's' : 't', ['address' => $target]);
            }
            foreach (Queue::of($jobs->plan())->stops as $stop) {
                $timeline = $stop->timeline();
                self::assertGreaterThanOrEqual($timeline->bound, $timeline->finish);
                $shorter = BruteForce::shorter($stop->pieces(), $timeline->finish);
                $tried += false === $shorter ? 1 : 0;
                self::assertIsBool($shorter, "seed $seed, stop {$stop->number}: there is one of $shorter s");
            }
        }
        self::assertGreaterThan(1000, $tried, 'every order was tried');
    }

    public function testWhatWasNotTriedToTheEndIsNotCalledTheShortest(): void
    {
        $pieces = [];
        for ($i = 0; $i < 5; ++$i) {
            $pieces[] = self::piece("d$i", $i % 2, [[10 + $i, 0], [20, 30 * $i], [15, 5]]);
        }
        $path = new CriticalPath($pieces);
        $all = BestOrder::of($pieces, $path, 10_000, 0);
        self::assertTrue($all->isExact);
        $few = BestOrder::of($pieces, $path, 10_000, 0, 3);
        self::assertFalse($few->isExact);
        self::assertGreaterThanOrEqual($all->finish, $few->finish);
    }

    #[Group('seeds')]
    public function testOfManyItComesNearTheBound(): void
    {
        $near = 0;
        for ($seed = 1; $seed <= 20; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $plan = SampleJob::of(Jobs::catalogue(), 250, 12, static fn (int $below): int => $chance->getInt(0, $below - 1));
            [$finish, $bound] = [0, 0];
            foreach (Queue::of($plan)->stops as $stop) {
                $finish += $stop->timeline()->finish;
                $bound += $stop->timeline()->bound;
                self::assertSame([], $stop->timeline()->circle);
            }
            $near += $finish <= 1.05 * $bound ? 1 : 0;
        }
        self::assertGreaterThanOrEqual(19, $near);
    }

    public function testALaneCountsOnlyUntilItIsLeft(): void
    {
        // Behind a stands b, which needs little once a has left; c alone takes long. The tail of a must not be put on b.
        $timeline = Timeline::plan([
            self::piece('a', 0, [[10, 0], [10, 10], [10, 300]]),
            self::piece('b', 0, [[10, 0], [10, 10], [10, 0]]),
            self::piece('c', 1, [[10, 0], [10, 200], [10, 60]]),
        ]);
        self::assertTrue($timeline->isBest);
        self::assertSame(340, $timeline->bound);
    }

    public function testMoreHandsMorePortsAndWhatTheSwitchCanFeed(): void
    {
        $pieces = [];
        for ($i = 0; $i < 12; ++$i) {
            $pieces[] = self::piece("d$i", $i, [[30, 0], [30, 100], [30, 0]]);
        }
        $one = Timeline::plan($pieces);
        $two = Timeline::plan($pieces, new BenchRoom(2));
        self::assertSame([1080, 540], [$one->bound, $two->bound]);
        self::assertLessThanOrEqual(1.1 * 540, $two->finish);
        self::assertGreaterThan($one->finish, Timeline::plan($pieces, new BenchRoom(1, 1))->finish, 'a single port: one after the other');
        $hungry = array_map(
            static fn (BenchTask $piece): BenchTask => new BenchTask($piece->device, $piece->lane, $piece->parts, [], 0, false, 13.0),
            $pieces,
        );
        $fed = Timeline::plan($hungry, new BenchRoom(1, 8, 30.0));
        self::assertSame(2, self::mostAtOnce($fed), 'two of 13 W on 30 W');
        self::assertSame(1, self::mostAtOnce(Timeline::plan($hungry, new BenchRoom(1, 8, 5.0))), 'one that is too much is not left out');
    }

    public function testThoseThatWaitForOneAnotherAreBegunAndNamed(): void
    {
        $timeline = Timeline::plan([
            self::piece('a', 0, [[10, 0], [10, 10], [10, 0]], 1, [2 => [1]]),
            self::piece('b', 1, [[10, 0], [10, 10], [10, 0]], 1, [2 => [0]]),
        ]);
        self::assertCount(6, $timeline->slots, 'nothing is left out');
        self::assertSame(['a'], $timeline->circle);
    }

    public function testWhatIsUnderWayGoesOnFromWhereItIs(): void
    {
        $timeline = Timeline::plan([
            new BenchTask(
                'a',
                0,
                [['code' => 'restart', 'hands' => 5, 'wait' => 50, 'powered' => true, 'after' => [], 'from' => 0]],
                [],
                40,
                true,
            ),
            self::piece('b', 0, [[10, 0], [10, 10]]),
        ]);
        $from = array_column($timeline->slots, 'from', 'device');
        self::assertSame(40, $from['a'], 'it still starts');
        self::assertSame(95, $from['b'], 'and holds the lane until it has left');
    }

    private static function mostAtOnce(Timeline $timeline): int
    {
        $changes = [];
        foreach ($timeline->slots as $slot) {
            if ('s1' === $slot['step']) {
                $changes[] = [$slot['from'], 1];
                $changes[] = [$slot['waits'], -1];
            }
        }
        sort($changes);
        $most = $now = 0;
        foreach ($changes as [, $by]) {
            $now += $by;
            $most = max($most, $now);
        }

        return $most;
    }
}
