<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Entity\Job;
use Vorhut\Entity\Outpost;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Remote\Pairing;

/** Orders tests and scans from the outpost in the segment that they start in; without one there, from the worker on the server. */
final readonly class RunTests
{
    public function __construct(private Orders $orders, private Pairing $pairing)
    {
    }

    /** @param list<string> $keys of the tests to run; those that a probe cannot make are left out */
    public function order(Job $job, Plan $plan, array $keys, string $by): void
    {
        $ofOutpost = [];
        $outposts = $this->liveOutposts($job);
        foreach (TestRunner::testsOf($plan, $keys, $job->rehearsed) as $test) {
            $segment = $plan->segments[OutpostKey::segment($test->from) ?? $test->from] ?? null;
            $ofOutpost[self::standingOn($segment, $outposts) ?? 0][] = $test->key;
        }
        foreach ($ofOutpost as $outpost => $tests) {
            $this->orders->give($job, WorkOrder::PROVE, ['tests' => $tests], $by, 0 === $outpost ? null : $outpost);
        }
    }

    public function scan(Job $job, Plan $plan, RangeList $list, string $by): void
    {
        $outpost = self::standingOn($plan->segments[(string) $list->from] ?? null, $this->liveOutposts($job));
        $this->orders->give($job, WorkOrder::SWEEP, ['list' => $list->key], $by, $outpost);
    }

    /** @return list<Outpost> that run now; none in the lab, where this server serves all segments */
    private function liveOutposts(Job $job): array
    {
        return $job->isRehearsing() || $job->rehearsed
            ? []
            : array_values(array_filter($this->pairing->all($job), $this->pairing->isLive(...)));
    }

    /** @param list<Outpost> $outposts */
    private static function standingOn(?Segment $segment, array $outposts): ?int
    {
        foreach ($outposts as $outpost) {
            if (null !== $segment && Pairing::standsOn($outpost, $segment)) {
                return $outpost->id;
            }
        }

        return null;
    }
}
