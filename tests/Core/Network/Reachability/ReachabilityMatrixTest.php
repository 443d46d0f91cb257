<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Reachability;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Network\Reachability\Cell;
use Vorhut\Core\Network\Reachability\Crossing;
use Vorhut\Core\Network\Reachability\Difference;
use Vorhut\Core\Network\Reachability\ReachabilityMatrix;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Sample\PlantedFaults;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Core\Text\Message;
use Vorhut\Tests\Support\Jobs;

/** Every cell is what a walk of its own says, at the price of far fewer walks; what differs is what differs. */
final class ReachabilityMatrixTest extends TestCase
{
    /** @return iterable<string, array{int}> */
    public static function seeds(): iterable
    {
        foreach (range(1, 6) as $seed) {
            yield 'seed '.$seed => [$seed];
        }
    }

    #[Group('seeds')]
    #[DataProvider('seeds')]
    public function testEveryCellIsWhatItsOwnWalkSays(int $seed): void
    {
        $plan = self::job($seed);
        $matrix = new ReachabilityMatrix(NetworkModel::of($plan, Face::Set));
        $cells = 0;
        foreach ($matrix->places() as $place) {
            foreach ($plan->devices as $device) {
                foreach (ReachabilityMatrix::servicesOf($device) as $service) {
                    ++$cells;
                    $walk = Walker::between($matrix->model, 'outposts/'.$place->key, $device->key, $service?->port);
                    $cell = $matrix->cell($place->key, $device, $service);
                    self::assertTrue(
                        Cell::of($walk)->equals($cell),
                        "$place->key > $device->key $service?->port: $cell->verdict, ".$walk->verdict().' '.$walk->brokenHop()?->text,
                    );
                }
            }
        }
        self::assertLessThan($cells / 2, $matrix->walked);
    }

    public function testTheWalksGrowWithSegmentsAndNotWithDevices(): void
    {
        $walked = [];
        foreach ([60, 240] as $devices) {
            $chance = new Randomizer(new Mt19937(5));
            $plan = SampleJob::of(Jobs::catalogue(), $devices, 6, static fn (int $below): int => $chance->getInt(0, $below - 1), 0);
            $matrix = new ReachabilityMatrix(NetworkModel::of($plan, Face::Set));
            $sum = new Crossing();
            foreach ($matrix->places() as $place) {
                foreach ($plan->segments as $segment) {
                    $sum = $sum->and($matrix->crossing($place->key, $segment->key));
                }
            }
            self::assertGreaterThan(4 * $devices, $sum->all());
            $walked[] = $matrix->walked;
        }
        self::assertLessThan(2 * $walked[0], $walked[1]);
    }

    public function testWhatWouldBeginAndCeaseIsSaidWithWhomItConcerns(): void
    {
        $plan = (new Jobs())->segment('s1', '10.40.12.0/24', '10.40.12.1')->segment('s2', '10.40.13.0/24', '10.40.13.1')
            ->router('r', ['s1' => '10.40.12.1/24', 's2' => '10.40.13.1/24'])
            ->device('a', 'ptz-camera', 's2', ['address' => '10.40.13.20'])
            ->device('b', 'ptz-camera', 's2', ['address' => '10.40.13.21'])
            ->device('c', 'ptz-camera', 's2', ['address' => '10.40.13.22', 'gateway' => ''])
            ->plan();
        $services = \count($plan->devices['a']->kind->services);
        $before = new ReachabilityMatrix(NetworkModel::of($plan, Face::Set));
        $is = static fn (Change $change): array => $before->against(
            new ReachabilityMatrix(NetworkModel::of($plan->with($change), Face::Set)),
        );

        self::assertSame([], $is(new Change(new Message(''), [])));
        $deny = $is(new Change(new Message(''), [Edit::put('devices', 'r', 'filterDefault', 'allow', 'deny')]));
        $ceased = array_values(array_filter($deny, static fn (Difference $one): bool => $one->ceases()));
        self::assertCount($services, $ceased, 'for a and b together, by service');
        self::assertSame(['A', 'B'], $ceased[0]->jsonSerialize()['devices']);
        self::assertSame('s1', $ceased[0]->place->key);
        self::assertStringStartsWith('From S1, A, B ', (string) $ceased[0]->message());
        // C was deaf before, and is so now by another cause.
        $other = array_values(array_filter($deny, static fn (Difference $one): bool => !$one->ceases()));
        self::assertSame(['C'], $other[0]->jsonSerialize()['devices'] ?? null);

        $given = $is(new Change(new Message(''), [Edit::setting('nics/c.lan#gateway', Face::Planned, '', '10.40.13.1')]));
        self::assertCount($services, $given);
        self::assertTrue($given[0]->begins());
        self::assertSame('no-gateway', $given[0]->jsonSerialize()['before']);
    }

    private static function job(int $seed): Plan
    {
        $chance = new Randomizer(new Mt19937($seed));
        $below = static fn (int $n): int => $chance->getInt(0, $n - 1);
        $plan = PlantedFaults::into(SampleJob::of(Jobs::catalogue(), 40 + 10 * $seed, 4 + $seed, $below), 12, $below)->plan;
        $segments = array_keys($plan->segments);
        $routers = array_values(array_unique(array_map(static fn ($port): string => $port->router, $plan->routerPorts)));
        $edits = [];
        foreach (range(1, 3) as $n) {
            $network = $plan->segments[$segments[$below(\count($segments))]]->network;
            $edits[] = Edit::add('filters', [
                'key' => 'own-'.$n,
                'router' => $routers[$below(\count($routers))],
                'position' => 10 * $n,
                'from' => 0 === $below(2) ? null : $segments[$below(\count($segments))],
                'transport' => ['any', 'tcp', 'udp'][$below(3)],
                'action' => 0 === $below(2) ? 'allow' : 'deny',
                'portFirst' => 0 === $below(2) ? null : 80,
                'fromAddresses' => 0 === $below(3) ? [$network->firstHost().'-'.$network->firstHost()->plus(9)] : null,
                'toAddresses' => 0 === $below(2) ? [$network->firstHost()->plus(3).'-'.$network->firstHost()->plus(14)] : null,
            ]);
        }
        foreach (array_values($plan->routerPorts) as $i => $port) {
            if (0 === $below(7)) {
                $edits[] = Edit::put('routerPorts', $port->key, 'proxyArp', false, true);
            }
        }
        $edits[] = Edit::add('translations', [
            'key' => 't',
            'router' => $routers[0],
            'outside' => $segments[$below(\count($segments))],
            'what' => ['source', 'static'][$below(2)],
            'position' => 1,
            'transport' => 'any',
            'inside' => (string) (array_values($plan->nics)[$below(\count($plan->nics))]->plannedAddress() ?? '10.64.0.20'),
        ]);

        return $plan->with(new Change(new Message(''), $edits));
    }
}
