<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** Asked before it is done: what a change would let begin and cease to work. */
final readonly class WhatIf implements \JsonSerializable
{
    /** @param list<Difference> $differences what begins, then what ceases, then what fails otherwise */
    private function __construct(public Change $change, public array $differences)
    {
    }

    /** @param ReachabilityMatrix|null $before as it is now, where that is computed already */
    public static function of(Plan $plan, Face $face, Change $change, ?ReachabilityMatrix $before = null): self
    {
        $before ??= new ReachabilityMatrix(NetworkModel::of($plan, $face));
        $differences = $before->against(new ReachabilityMatrix(NetworkModel::of($plan->with($change), $face)));
        $rank = static fn (Difference $one): int => match (true) {
            $one->ceases() => 0,
            $one->begins() => 1,
            default => 2,
        };
        usort($differences, static fn (Difference $a, Difference $b): int => $rank($a) <=> $rank($b));

        return new self($change, $differences);
    }

    /** @return list<Difference> */
    public function begins(): array
    {
        return array_values(array_filter($this->differences, static fn (Difference $one): bool => $one->begins()));
    }

    /** @return list<Difference> */
    public function ceases(): array
    {
        return array_values(array_filter($this->differences, static fn (Difference $one): bool => $one->ceases()));
    }

    /** @return list<Difference> */
    public function otherwise(): array
    {
        return array_values(array_filter(
            $this->differences,
            static fn (Difference $one): bool => !$one->begins() && !$one->ceases(),
        ));
    }

    /**
     * @param list<Difference> $differences
     *
     * @return int of devices and services, each as seen from one place
     */
    public static function cells(array $differences): int
    {
        return array_sum(array_map(static fn (Difference $one): int => \count($one->devices), $differences));
    }

    /** @return array<string, mixed> */
    public function jsonSerialize(): array
    {
        return [
            'edits' => $this->change->edits,
            'begins' => $this->begins(),
            'ceases' => $this->ceases(),
            'otherwise' => $this->otherwise(),
        ];
    }
}
