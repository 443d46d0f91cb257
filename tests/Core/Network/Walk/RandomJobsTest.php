<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Walk;

use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Walk\Cure;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

/** Properties of the walk that must hold on any job, tried on seeded random ones. */
final class RandomJobsTest extends TestCase
{
    private const JOBS = 2000;

    #[Group('seeds')]
    public function testEveryCureMendsItsWalkAndSameInputGivesSameOutput(): void
    {
        $broken = $cured = 0;
        $faults = [];
        for ($seed = 1; $seed <= self::JOBS; ++$seed) {
            $random = new Randomizer(new Mt19937($seed));
            $plan = self::job($random)->plan();
            $face = 0 !== $random->getInt(0, 1) ? Face::Planned : Face::Seen;
            [$from, $to] = [['d0', 'd1'], ['d1', 'd0'], ['d2', 'd3'], ['outposts/s0', 'd1']][$random->getInt(0, 3)];
            $port = Port::fromString(['80/tcp', '80/tcp', '80/tcp', '80/tcp', '554/tcp', '5060/udp'][$random->getInt(0, 5)]);

            $walk = Walker::between(NetworkModel::of($plan, $face), $from, $to, $port);
            if (0 === $seed % 5) {
                $same = NetworkModel::of(self::job(new Randomizer(new Mt19937($seed)))->plan(), $face);
                self::assertSame(json_encode($walk), json_encode(Walker::between($same, $from, $to, $port)), "seed $seed");
            }
            if ($walk->holds()) {
                self::assertNull(Cure::of($plan, $face, $from, $to, $port), "seed $seed: a walk that holds needs no cure");
                continue;
            }
            ++$broken;
            $fault = $walk->brokenHop()->fault->value ?? '';
            $faults[$fault] = ($faults[$fault] ?? 0) + 1;
            $cure = Cure::of($plan, $face, $from, $to, $port);
            if (null === $cure) {
                continue;
            }
            ++$cured;
            $after = Walker::between(NetworkModel::of($plan->with($cure), $face), $from, $to, $port);
            self::assertTrue($after->holds(), "seed $seed: $cure->why");
            foreach ($after->hops as $hop) {
                self::assertNull($hop->fault, "seed $seed");
            }
            foreach ($cure->edits as $edit) {
                $device = match ($edit->section) {
                    'devices' => $edit->key,
                    'settings' => $plan->nics[explode('#', substr($edit->key, 5))[0]]->device ?? '',
                    default => '',
                };
                self::assertStringContainsString($plan->devices[$device]->tag ?? '', (string) $cure->why, "seed $seed: says what it does");
            }
        }
        ksort($faults);
        self::assertGreaterThan(self::JOBS / 3, $broken, 'the generator must make faults');
        self::assertGreaterThan($broken / 2, $cured, "$cured of $broken: most faults have a cure: ".json_encode($faults));
        self::assertGreaterThanOrEqual(12, \count($faults), 'many sorts of fault: '.json_encode($faults));
    }

    /** @param non-empty-list<string> $of */
    private static function pick(Randomizer $random, array $of): string
    {
        return $of[$random->getInt(0, \count($of) - 1)];
    }

    private static function job(Randomizer $random): Jobs
    {
        $one = static fn (int $in): bool => 1 === $random->getInt(1, $in);
        $job = new Jobs();
        $segments = $random->getInt(2, 4);
        for ($s = 0; $s < $segments; ++$s) {
            $job->segment('s'.$s, "10.40.$s.0/24", "10.40.$s.1");
        }
        $two = !$one(3) && $segments > 2;
        $allow = $random->getInt(0, 3) > 0;
        $stateful = $random->getInt(0, 3) >= 1;
        $ports = ['r0' => [], 'r1' => []];
        for ($s = 0; $s < $segments; ++$s) {
            $router = $two && $s > 0 ? 'r1' : 'r0';
            $ports[$router]['s'.$s] = "10.40.$s.1/24";
        }
        if ($two) {
            $job->segment('mid', '10.40.99.0/29');
            $ports['r0']['mid'] = '10.40.99.1/29';
            $ports['r1']['mid'] = '10.40.99.2/29';
            foreach (['r0' => '10.40.99.2', 'r1' => '10.40.99.1'] as $router => $via) {
                if (!$one(5)) {
                    $job->row('routes', [
                        'key' => 'd-'.$router,
                        'router' => $router,
                        'destination' => '10.40.0.0/16',
                        'via' => 0 !== $random->getInt(0, 4) ? $via : '10.40.99.6',
                    ]);
                }
            }
        }
        foreach ($two ? ['r0', 'r1'] : ['r0'] as $router) {
            $job->router($router, $ports[$router], $allow, $stateful);
        }
        for ($f = $random->getInt(0, 2); $f > 0; --$f) {
            $job->row('filters', [
                'key' => 'f'.$f,
                'router' => 'r0',
                'position' => $f,
                'from' => 0 !== $random->getInt(0, 1) ? null : 's0',
                'to' => 0 !== $random->getInt(0, 1) ? null : 's1',
                'transport' => ['any', 'tcp', 'udp'][$random->getInt(0, 2)],
                'action' => 0 !== $random->getInt(0, 1) ? 'allow' : 'deny',
            ]);
        }
        for ($d = 0; $d < 5; ++$d) {
            $s = $random->getInt(0, $segments - 1);
            $values = ['address' => "10.40.$s.".$random->getInt(10, 12 + 6 * $d)];
            foreach (['', '.set', '.seen'] as $face) {
                if ($random->getInt(0, 3) > 0) {
                    continue;
                }
                $values['mask'.$face] = self::pick($random, ['/24', '/22', '/28', '/16', '/25']);
                $values['gateway'.$face] = self::pick($random, [
                    '',
                    "10.40.$s.1",
                    "10.40.$s.9",
                    '10.40.7.1',
                    $values['address'],
                    "10.40.$s.11",
                ]);
                if ($one(4)) {
                    $values['address'.$face] = self::pick($random, [
                        "10.40.$s.15",
                        '10.40.1.12',
                        '169.254.7.7',
                        "10.40.$s.255",
                        '192.0.2.8',
                        '10.40.0.12',
                    ]);
                }
            }
            if (0 === $random->getInt(0, 19)) {
                unset($values['address']);
            }
            $job->device(
                'd'.$d,
                self::pick($random, ['ptz-camera', 'room-codec', 'lighting-node', 'streaming-encoder', 'desk-phone-poe']),
                0 !== $random->getInt(0, 29) ? 's'.$s : null,
                $values,
            );
        }

        return $job;
    }
}
