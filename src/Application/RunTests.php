<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Network\Discovery\RangeList;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;
use Vorhut\Outpost\Orders\Orders;
use Vorhut\Outpost\Probe\TestRunner;
use Vorhut\Outpost\Remote\Pairing;

/** Orders tests and scans, each from the outpost that stands where it is to be asked from, else from the worker beside the server. */
final readonly class RunTests
{
    public function __construct(private Orders $orders, private Pairing $pairing)
    {
    }

    /** @param list<string> $keys of tests; none for all of them */
    public function order(Job $job, Plan $plan, array $keys, string $by): void
    {
        $ofOutpost = [];
        foreach (TestRunner::testsOf($plan, $keys, $job->rehearsed) as $test) {
            $segment = OutpostKey::segment($test->from) ?? $test->from;
            $ofOutpost[$this->outpostOn($job, $plan, $segment) ?? 0][] = $test->key;
        }
        foreach ($ofOutpost as $outpost => $tests) {
            $this->orders->give($job, WorkOrder::PROVE, ['tests' => $tests], $by, 0 === $outpost ? null : $outpost);
        }
    }

    public function scan(Job $job, Plan $plan, RangeList $list, string $by): void
    {
        $outpost = $this->outpostOn($job, $plan, (string) $list->from);
        $this->orders->give($job, WorkOrder::SWEEP, ['list' => $list->key], $by, $outpost);
    }

    private function outpostOn(Job $job, Plan $plan, string $segment): ?int
    {
        $there = $plan->segments[$segment] ?? null;
        // In the lab there is one wire for all of them, and it is here.
        if (null === $there || $job->isRehearsing() || $job->rehearsed) {
            return null;
        }
        foreach ($this->pairing->all($job) as $outpost) {
            if ($this->pairing->isLive($outpost) && Pairing::standsOn($outpost, $there)) {
                return $outpost->id;
            }
        }

        return null;
    }
}
