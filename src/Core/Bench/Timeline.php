<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Kind\Step;
use Vorhut\Core\Plan\Device;

/**
 * Who does what when at a stop: one pair of hands, many devices that start by themselves. All times in seconds from the start of the stop.
 *
 * Order by list scheduling: whenever the hands are free they take, of the devices that are ready, the one with the most work left behind it in
 * its lane. The bound says how far from the best this can be.
 */
final readonly class Timeline
{
    /**
     * @param list<array{device: string, step: string, from: int, to: int, waits: int}> $slots hands-on from–to, then waiting until `waits`
     * @param int $hands  sum of hands-on time
     * @param int $bound  no order can be faster than this
     * @param int $finish when the last device is done
     */
    private function __construct(public array $slots, public int $hands, public int $bound, public int $finish)
    {
    }

    /**
     * @param list<list<Device>> $lanes
     */
    public static function of(array $lanes, int $ports = 8): self
    {
        /** @var array<string, list<Step>> $left */
        $left = [];
        $ready = [];
        $behind = [];
        $holdsLane = [];
        $freeAt = [];
        $lane = [];
        $hands = 0;
        $longest = 0;
        foreach ($lanes as $number => $devices) {
            $after = 0;
            foreach (array_reverse($devices) as $device) {
                $left[$device->key] = $device->kind->steps;
                $ready[$device->key] = 0;
                $lane[$device->key] = $number;
                $after += self::duration($device->kind->steps);
                $behind[$device->key] = $after - self::duration($device->kind->steps);
                $hands += array_sum(array_map(static fn (Step $step): int => $step->hands, $device->kind->steps));
                $longest = max($longest, self::duration($device->kind->steps));
            }
            $exclusive = \count($devices) > 1 ? array_sum(array_map(static fn (Device $device): int => self::duration(self::powered($device->kind->steps)), $devices)) : 0;
            $longest = max($longest, $exclusive);
        }
        $slots = [];
        $now = 0;
        $finish = 0;
        while ([] !== $left) {
            $best = null;
            foreach ($left as $key => $steps) {
                $starts = self::startsPower($steps[0]);
                $blocked = $starts && (isset($holdsLane[$lane[$key]]) || ($freeAt[$lane[$key]] ?? 0) > $now || \count($holdsLane) >= $ports);
                if ($ready[$key] > $now || $blocked) {
                    continue;
                }
                $weight = [self::duration($steps) + $behind[$key], -$lane[$key]];
                if (null === $best || $weight > $best[1]) {
                    $best = [$key, $weight];
                }
            }
            if (null === $best) {
                $coming = array_filter([...array_values($ready), ...array_values($freeAt)], static fn (int $at): bool => $at > $now);
                $now = [] === $coming ? $now + 1 : min($coming);
                continue;
            }
            $key = $best[0];
            $step = $left[$key][0];
            $left[$key] = \array_slice($left[$key], 1);
            $to = $now + $step->hands;
            $slots[] = ['device' => $key, 'step' => $step->code, 'from' => $now, 'to' => $to, 'waits' => $to + $step->wait];
            if (self::startsPower($step)) {
                $holdsLane[$lane[$key]] = $key;
            }
            $now = $to;
            $ready[$key] = $to + $step->wait;
            $finish = max($finish, $ready[$key]);
            if ([] === self::powered($left[$key]) && ($holdsLane[$lane[$key]] ?? null) === $key) {
                // Once it has restarted it holds its target address, and the next of its lane may be powered.
                unset($holdsLane[$lane[$key]]);
                $freeAt[$lane[$key]] = $ready[$key];
            }
            if ([] === $left[$key]) {
                unset($left[$key], $ready[$key]);
            }
        }

        return new self($slots, $hands, max($hands, $longest), $finish);
    }

    private static function startsPower(Step $step): bool
    {
        return RunSheet::HOOK_UP === $step->code;
    }

    /**
     * The steps during which a device may still hold its factory address: from power on until it has restarted with its own.
     *
     * @param list<Step> $steps
     *
     * @return list<Step>
     */
    private static function powered(array $steps): array
    {
        $last = -1;
        foreach ($steps as $i => $step) {
            if ('restart' === $step->code || \in_array('address', $step->records, true)) {
                $last = $i;
            }
        }

        return array_values(array_filter(\array_slice($steps, 0, $last + 1), static fn (Step $step): bool => 'unpack' !== $step->code));
    }

    /** @param list<Step> $steps */
    private static function duration(array $steps): int
    {
        return array_sum(array_map(static fn (Step $step): int => $step->hands + $step->wait, $steps));
    }
}
