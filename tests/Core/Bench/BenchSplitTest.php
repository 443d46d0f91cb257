<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\Stop;
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
}
