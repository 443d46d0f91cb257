<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Bench\NestedNetworks;
use Vorhut\Core\Bench\Precedence;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Bench\StopKind;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Tests\Support\Jobs;

final class QueueTest extends TestCase
{
    /** @return list<list<string>> */
    private static function lanes(Stop $stop): array
    {
        return array_map(
            static fn (array $lane): array => array_map(static fn (Device $device): string => $device->key, $lane),
            $stop->lanes,
        );
    }

    /** @return array<string, array{device: string, step: string, from: int, to: int, waits: int}> by device and step */
    private static function at(Stop $stop): array
    {
        $at = [];
        foreach ($stop->timeline()->slots as $slot) {
            $at[$slot['device'].' '.$slot['step']] = $slot;
        }

        return $at;
    }

    public function testOneFactoryAddressOneLaneAndNeverTwoAtATime(): void
    {
        $queue = Queue::of((new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c1', 'ptz-camera', 's', ['address' => '10.64.40.31'])
            ->device('c2', 'ptz-camera', 's', ['address' => '10.64.40.32'])
            ->device('e', 'streaming-encoder', 's', ['address' => '10.64.40.51'])->plan());

        self::assertCount(1, $queue->stops, 'same factory network, one setting of the laptop');
        self::assertSame([['c1', 'c2'], ['e']], self::lanes($queue->stops[0]));
        $powered = self::at($queue->stops[0]);
        self::assertGreaterThanOrEqual(
            $powered['c1 restart']['waits'],
            $powered['c2 hook-up']['from'],
            'the second is powered when the first holds its own address',
        );
        $boot = $powered['c1 hook-up'];
        self::assertNotEmpty(
            array_filter(
                $queue->stops[0]->timeline()->slots,
                static fn (array $slot): bool => 'c1' !== $slot['device'] && $slot['from'] >= $boot['to'] && $slot['from'] < $boot['waits'],
            ),
            'hands work elsewhere while a boot goes on',
        );
    }

    public function testTheNextOfALaneIsPoweredAsSoonAsTheOneBeforeHasItsOwnAddress(): void
    {
        $at = self::at(Queue::of((new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c1', 'ptz-camera', 's', ['address' => '10.64.40.31'])
            ->device('c2', 'ptz-camera', 's', ['address' => '10.64.40.32'])->plan())->stops[0]);
        self::assertLessThan($at['c1 verify']['from'], $at['c2 hook-up']['from'], 'what is left of the first can wait');
        self::assertLessThanOrEqual($at['c1 name']['from'], $at['c2 hook-up']['from']);
    }

    public function testTheLaptopTakesAFreeAddressAndHoldsASecondOneForTheNewAddresses(): void
    {
        $stop = Queue::of(
            (new Jobs())
                ->segment('s', '10.64.40.0/24', '10.64.40.1', ['outpost' => '10.64.40.250'])
                ->device('c', 'ptz-camera', 's', ['address' => '10.64.40.31'])
                ->plan(),
        )->stops[0];

        self::assertSame('192.168.1.254/24', $stop->laptop.$stop->mask);
        self::assertSame('10.64.40.250', (string) $stop->second[0]['address']);
    }

    public function testAFactoryNetworkThatSwallowsTheSiteStandsApartAndSaysSo(): void
    {
        $queue = Queue::of((new Jobs())->segment('s', '10.40.0.0/16', '10.40.0.1')
            ->device('n', 'lighting-node', 's', ['address' => '10.40.0.50'])
            ->device('c', 'ptz-camera', 's', ['address' => '10.40.0.31'])->plan());
        $lighting = $queue->stopOf('n');

        self::assertCount(2, $queue->stops);
        self::assertNotNull($lighting);
        self::assertSame([], $lighting->second);
        self::assertStringContainsString('swallows', (string) $lighting->notes[0]);
    }

    public function testWhoWillHoldAFactoryAddressIsPoweredWhenAllThatWakeUpThereHaveLeft(): void
    {
        // The PBX ranks before the camera, and is to live where the camera wakes up.
        $stops = Queue::of((new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->device('x', 'on-site-pbx', 's', ['address' => '192.168.1.100'])
            ->device('c', 'ptz-camera', 's', ['address' => '192.168.1.60'])->plan())->stops;

        self::assertSame([[['c'], ['x']]], array_map(self::lanes(...), $stops), 'one stop, and the camera first');
        $at = self::at($stops[0]);
        self::assertGreaterThanOrEqual($at['c restart']['waits'], $at['x hook-up']['from']);
    }

    public function testAcrossStopsTheyComeInThatOrderTooAndWhereThatCannotBeItIsSaid(): void
    {
        $jobs = static fn (string $node): Jobs => (new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->segment('t', '10.0.0.0/24', '10.0.0.1')
            ->device('x', 'on-site-pbx', 't', ['address' => '10.0.0.50'])
            ->device('n', 'lighting-node', 's', ['address' => $node]);

        $stops = Queue::of($jobs('192.168.1.77')->plan())->stops;
        self::assertSame([[['n']], [['x']]], array_map(self::lanes(...), $stops), 'the node wakes up at 10.0.0.50');
        $stops = Queue::of($jobs('192.168.1.2')->plan())->stops;
        self::assertSame([[['x']], [['n']]], array_map(self::lanes(...), $stops));
        self::assertStringContainsString('unplug X until N is set', implode(' ', array_map(strval(...), $stops[0]->notes)));
    }

    public function testWhereAnAddressAndANeedSpeakAgainstEachOtherTheAddressComesFirst(): void
    {
        // The controller needs the server, and the server is to live where the controller wakes up: two at one address would be worse.
        $stops = Queue::of((new Jobs())->segment('s', '192.168.0.0/24', '192.168.0.1')
            ->device('x', 'on-site-pbx', 's', ['address' => '192.168.0.50'], ['labelAddress' => '10.9.9.9', 'labelMask' => '/24'])
            ->device('w', 'wireless-controller', 's', ['address' => '192.168.0.60', 'authServer' => 'x'])->plan())->stops;
        self::assertSame([[['w']], [['x']]], array_map(self::lanes(...), $stops));
    }

    public function testNobodyWaitsForThemselves(): void
    {
        $plan = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('a', 'touch-panel', 's', ['address' => '10.64.20.31', 'pairedWith' => 'a'])
            ->device('b', 'touch-panel', 's', ['address' => '10.64.20.32', 'pairedWith' => 'a'])
            ->device('c', 'touch-panel', 's', ['address' => '10.64.20.33', 'pairedWith' => 'gone'])->plan();
        $precedence = new Precedence($plan);
        self::assertSame([[], ['pair' => ['a']], []], array_values(array_map($precedence->of(...), $plan->devices)));
    }

    public function testThoseWhoTakeEachOthersAddressComeLastAndOneByOne(): void
    {
        $stop = Queue::of((new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->device('c', 'ptz-camera', 's', ['address' => '192.168.1.168'])
            ->device('d', 'ptz-camera', 's', ['address' => '192.168.1.61'])
            ->device('e', 'streaming-encoder', 's', ['address' => '192.168.1.100'])->plan())->stops[0];

        self::assertSame([['d'], ['c', 'e']], self::lanes($stop));
        self::assertStringContainsString('C, E are to live where others of them wake up', implode(' ', $stop->notes));
        $at = self::at($stop);
        self::assertGreaterThanOrEqual($at['d restart']['waits'], $at['c hook-up']['from']);
        self::assertGreaterThanOrEqual($at['c restart']['waits'], $at['e hook-up']['from']);
        self::assertSame([], $stop->timeline()->circle);
    }

    public function testWhatFallsBackFromDhcpRidesWhereDhcpIsServed(): void
    {
        $jobs = static fn (): Jobs => (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('c', 'room-codec', 's', ['address' => '10.64.20.51']);
        self::assertSame([StopKind::Fixed], array_column(Queue::of($jobs()->plan())->stops, 'how'), 'nobody serves DHCP for one');
        $stops = Queue::of($jobs()->device('p', 'desk-phone-poe', 's', ['address' => '10.64.20.31'])->plan())->stops;
        self::assertSame([StopKind::Dhcp], array_column($stops, 'how'));
        self::assertSame([['p'], ['c']], self::lanes($stops[0]));
        $stops = Queue::of($jobs()->device('v', 'ptz-camera', 's', ['address' => '10.64.20.31'])->plan())->stops;
        self::assertSame([StopKind::Fixed], array_column($stops, 'how'), 'it shares the factory network of the camera');
    }

    public function testAFullFactoryNetworkIsSaid(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1');
        foreach (['192.0.2.1', '192.0.2.2'] as $i => $address) {
            $jobs->device("c$i", 'ptz-camera', 's', ['address' => "10.64.20.3$i"], ['labelAddress' => $address, 'labelMask' => '/30']);
        }
        $stop = Queue::of($jobs->plan())->stops[0];
        self::assertNull($stop->laptop);
        self::assertStringContainsString('No address is left in 192.0.2.0/30', (string) $stop->notes[0]);
    }

    public function testAPhoneIsToldItsServerWhenItsRegistrarIsUp(): void
    {
        // Both are met at one stop: the phone waits on its screen, not in its box.
        $stop = Queue::of((new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('p', 'desk-phone-supply', 's', ['address' => '10.64.20.31'], ['labelAddress' => '192.168.1.7', 'labelMask' => '/24'])
            ->device('x', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->number('2101', 'p', null, [], 'x')->plan())->stopOf('p');
        self::assertNotNull($stop);
        if (!$stop->holds('x')) {
            self::assertSame(2, $stop->number, 'or at a later one');

            return;
        }
        $at = self::at($stop);
        self::assertGreaterThanOrEqual($at['x verify']['waits'], $at['p server']['from']);
    }

    public function testASettingOfTheLaptopReachesAChainOfNetworksAndThereAreAsFewAsCanBe(): void
    {
        $fewest = static function (array $networks, \Closure $apart): int {
            /**
             * @var list<Network>             $networks
             * @var \Closure(int, int): bool $apart
             */
            // By hand: every way to put them into groups, of which each is a chain and none holds two that are apart.
            $best = \count($networks);
            $try = static function (int $n, array $groups) use (&$try, &$best, $networks, $apart): void {
                if (!isset($networks[$n])) {
                    $best = min($best, \count($groups));

                    return;
                }
                /** @var list<list<int>> $groups */
                foreach ($groups as $i => $group) {
                    $fits = [] === array_filter(
                        $group,
                        static fn (int $one): bool => !$networks[$n]->covers($networks[$one]) || $apart($one, $n),
                    );
                    if ($fits) {
                        $with = $groups;
                        $with[$i][] = $n;
                        $try($n + 1, $with);
                    }
                }
                $try($n + 1, [...$groups, [$n]]);
            };
            $try(0, []);

            return $best;
        };
        for ($seed = 1; $seed <= 500; ++$seed) {
            $chance = new Randomizer(new Xoshiro256StarStar($seed));
            $texts = [];
            for ($i = $chance->getInt(1, 7); $i > 0; --$i) {
                $mask = Mask::ofPrefix([8, 12, 16, 20, 24, 28][$chance->getInt(0, 5)]);
                $host = Ipv4::fromString('10.0.0.0')
                    ->plus($chance->getInt(0, 3) * 0x100000 + $chance->getInt(0, 3) * 0x1000 + $chance->getInt(0, 1) * 16);
                $texts[(string) Network::around($host, $mask)] = -$mask->prefix;
            }
            asort($texts);
            $networks = array_map(Network::fromString(...), array_keys($texts));
            $odd = $chance->getInt(0, 12);
            $apart = static fn (int $a, int $b): bool => 0 === ($a * 7 + $b * 5 + $odd) % 4;
            $chains = NestedNetworks::of($networks, $apart);
            self::assertCount($fewest($networks, $apart), $chains, "seed $seed");
            $all = array_merge(...$chains);
            sort($all);
            self::assertSame(array_keys($networks), $all, "seed $seed");
        }
    }

    public function testWhatOthersDependOnComesFirst(): void
    {
        $stops = Queue::of((new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.20.31'])
            ->device('x', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('w', 'managed-switch', 's', ['address' => '10.64.20.5'])->plan())->stops;

        self::assertSame([[['w']], [['x']], [['p']]], array_map(self::lanes(...), $stops));
        self::assertSame(StopKind::Dhcp, $stops[2]->how);
    }

    public function testTheBoundIsNeverBeaten(): void
    {
        $jobs = (new Jobs())->segment('s', '10.64.0.0/22', '10.64.0.1');
        foreach (['ptz-camera', 'room-codec', 'streaming-encoder', 'on-site-pbx'] as $k => $kind) {
            for ($i = 0; $i < 3; ++$i) {
                $jobs->device("d$k$i", $kind, 's', ['address' => (string) Ipv4::fromString('10.64.1.0')->plus(10 * $k + $i)]);
            }
        }
        foreach (Queue::of($jobs->plan())->stops as $stop) {
            self::assertGreaterThanOrEqual($stop->timeline()->bound, $stop->timeline()->finish);
            self::assertLessThan(1.1 * $stop->timeline()->bound, $stop->timeline()->finish, 'and this order comes near it');
        }
    }

    public function testMarkingAStepRecordsWhatWasSetAndForgetsWhatWasSeenBefore(): void
    {
        $plan = (new Jobs())
            ->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.40.31', 'gateway.seen' => '10.64.40.9'])
            ->plan();
        $sheet = RunSheet::of($plan, $plan->devices['c']);
        $step = $plan->devices['c']->kind->step('address') ?? throw new \LogicException();
        $mark = new StepMark(MarkState::Done, typed: ['dns' => '10.64.40.3']);
        $after = $plan->with($sheet->changes()->mark($step, $mark, 'Jo', '2026-03-01T09:00:00Z'));

        self::assertSame(
            ['10.64.40.31', '/24', '10.64.40.1', '10.64.40.3'],
            array_map(
                static fn (string $field): ?string => $after->nics['c.lan']->setting($field)->set,
                ['address', 'mask', 'gateway', 'dns'],
            ),
        );
        self::assertNull($after->nics['c.lan']->setting('gateway')->seen);
        self::assertSame('unpack', RunSheet::of($after, $after->devices['c'])->next()?->code, 'the order of the sheet stays');
    }
}
