<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
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

    public function testOneFactoryAddressOneLaneAndNeverTwoAtATime(): void
    {
        $queue = Queue::of((new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c1', 'ptz-camera', 's', ['address' => '10.64.40.31'])
            ->device('c2', 'ptz-camera', 's', ['address' => '10.64.40.32'])
            ->device('e', 'streaming-encoder', 's', ['address' => '10.64.40.51'])->plan());

        self::assertCount(1, $queue->stops, 'same factory network, one setting of the laptop');
        self::assertSame([['c1', 'c2'], ['e']], self::lanes($queue->stops[0]));
        $powered = [];
        foreach ($queue->stops[0]->timeline()->slots as $slot) {
            $powered[$slot['device'].' '.$slot['step']] = $slot;
        }
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
        $at = [];
        foreach (Queue::of((new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c1', 'ptz-camera', 's', ['address' => '10.64.40.31'])
            ->device('c2', 'ptz-camera', 's', ['address' => '10.64.40.32'])->plan())->stops[0]->timeline()->slots as $slot) {
            $at[$slot['device'].' '.$slot['step']] = $slot;
        }
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

    public function testATargetThatIsAFactoryAddressComesLast(): void
    {
        // The camera is to live where the encoder wakes up: only after the encoder has left.
        $stops = Queue::of((new Jobs())->segment('s', '192.168.1.0/24', '192.168.1.1')
            ->device('c', 'ptz-camera', 's', ['address' => '192.168.1.168'])
            ->device('e', 'streaming-encoder', 's', ['address' => '192.168.1.60'])->plan())->stops;

        self::assertSame([[['e']], [['c']]], array_map(self::lanes(...), $stops));
    }

    public function testWhatOthersDependOnComesFirst(): void
    {
        $stops = Queue::of((new Jobs())->segment('s', '10.64.20.0/24', '10.64.20.1')
            ->device('p', 'desk-phone-poe', 's', ['address' => '10.64.20.31'])
            ->device('x', 'on-site-pbx', 's', ['address' => '10.64.20.10'])
            ->device('w', 'managed-switch', 's', ['address' => '10.64.20.5'])->plan())->stops;

        self::assertSame([[['w']], [['x']], [['p']]], array_map(self::lanes(...), $stops));
        self::assertSame('dhcp', $stops[2]->how);
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
        $after = $plan->with($sheet->markChange($step, 'done', '', 'Jo', '2026-03-01T09:00:00Z', ['dns' => '10.64.40.3']));

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
