<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/**
 * From where, and for how long, a phone's file is served: a path can be overheard, an address in the site is harder to obtain. Without a
 * setting of the phone's segment, from any network of the job; for phones behind another party's NAT, its outer address is entered there.
 */
final readonly class FetchGuard
{
    /**
     * @param list<Range> $ranges
     * @param int|null    $seconds from the first fetch, after the last work on the phone; null for no limit
     * @param string      $worked  when that was, as ISO 8601; '' for never
     */
    private function __construct(public array $ranges, public ?int $seconds, public string $worked)
    {
    }

    public static function of(Plan $plan, Device $device): self
    {
        $segment = $plan->segmentOf($device);
        $minutes = $plan->job->intOrNull('fetchMinutes');
        $worked = '';
        foreach ($plan->marksOf($device->key) as $mark) {
            $worked = max($worked, $mark->at);
        }

        return new self(
            null === $segment || [] === $segment->fetchFrom
                ? array_map(static fn (Segment $one): Range => $one->network->range(), array_values($plan->segments))
                : $segment->fetchFrom,
            null === $minutes ? null : 60 * $minutes,
            $worked,
        );
    }

    public function lets(Ipv4 $from): bool
    {
        foreach ($this->ranges as $range) {
            if ($range->contains($from)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Until when it is handed out.
     *
     * @param int|null $first Unix time of the first fetch since the last work on it; null if there was none
     *
     * @return int|null Unix time; null for ever
     */
    public function until(?int $first, int $now): ?int
    {
        return null === $this->seconds ? null : ($first ?? $now) + $this->seconds;
    }
}
