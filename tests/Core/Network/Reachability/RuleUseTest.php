<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Network\Reachability;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Network\Reachability\Flow;
use Vorhut\Core\Network\Reachability\RequiredFlows;
use Vorhut\Core\Network\Reachability\RequiredPaths;
use Vorhut\Core\Network\Reachability\RuleUse;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Network\Walk\Walker;
use Vorhut\Core\Plan\Face;
use Vorhut\Tests\Support\Jobs;

final class RuleUseTest extends TestCase
{
    private static function jobs(): Jobs
    {
        $jobs = (new Jobs())->segment('t', '10.64.10.0/24', '10.64.10.1')->segment('q', '10.64.40.0/24', '10.64.40.1')
            ->router('r', ['t' => '10.64.10.1/24', 'q' => '10.64.40.1/24'], false, true);
        foreach (['a' => 31, 'b' => 32, 'c' => 33] as $key => $host) {
            $jobs->device($key, 'ptz-camera', 'q', ['address' => '10.64.40.'.$host], ['controlledFrom' => 't']);
        }
        foreach ([
            ['web', 1, 't', 'q', 'tcp', 80, 'allow'], ['pictures', 2, 't', 'q', 'tcp', 554, 'deny'],
            ['other', 3, 'q', 't', 'tcp', 80, 'allow'], ['rest', 4, 't', 'q', 'any', null, 'deny'],
        ] as [$key, $position, $from, $to, $by, $port, $action]) {
            $jobs->row('filters', [
                'key' => $key, 'router' => 'r', 'position' => $position, 'from' => $from, 'to' => $to, 'transport' => $by,
                'portFirst' => $port, 'action' => $action,
            ]);
        }

        return $jobs;
    }

    public function testARuleIsAsWideAsTheWantedWaysItDecidesOn(): void
    {
        $plan = self::jobs()->plan();
        $wanted = [];
        foreach (RequiredFlows::of($plan) as $flow) {
            $wanted[(string) $flow->port] = ($wanted[(string) $flow->port] ?? 0) + 1;
        }
        self::assertSame(3, $wanted['80/tcp'] ?? 0, 'each camera is controlled');
        $use = RuleUse::of(NetworkModel::of($plan, Face::Set));
        $by = [];
        foreach ($plan->filters as $rule) {
            $by[$rule->key] = $use->by($rule);
        }
        self::assertSame(3, $by['web']);
        self::assertSame($wanted['554/tcp'] ?? 0, $by['pictures'], 'what it stops counts as well');
        self::assertSame(0, $by['other'], 'nobody of the job needs it');
        self::assertSame(array_sum($wanted) - $by['web'] - $by['pictures'], $by['rest']);
    }

    public function testOfWaysThatAreAlikeOneIsWalkedAndEachComesOut(): void
    {
        $model = NetworkModel::of(self::jobs()->plan(), Face::Set);
        $ways = iterator_to_array(RequiredPaths::of($model), false);
        self::assertLessThan(\count($ways), $model->walked);
        self::assertSame(
            array_values(array_unique(array_map(static fn (array $way): string => $way[0]->key(), $ways))),
            array_map(static fn (Flow $flow): string => $flow->key(), RequiredFlows::of($model->plan)),
        );
        foreach ($ways as [$flow, $port, $walk]) {
            $own = Walker::between($model, $flow->from, $flow->to, Port::of($port->transport, $port->number));
            self::assertSame($own->verdict(), $walk->verdict(), $flow->key());
        }
    }
}
