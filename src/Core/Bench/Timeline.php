<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;

/**
 * Who does what when at a stop: one pair of hands, many devices that start by themselves. All times in seconds from the start of the stop.
 *
 * Order by list scheduling: whenever the hands are free they take, of the devices that are ready, the one with the most work left behind
 * it in its lane. The bound says how far from the best this can be.
 */
final readonly class Timeline
{
    /**
     * @param list<array{device: string, step: string, from: int, to: int, waits: int}> $slots
     *     hands-on from–to, then waiting until `waits`
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
        /** @var array<string, array{device: Device, lane: int, behind: int, order: int}> $all */
        $all = [];
        $hands = 0;
        $longest = 0;
        /** @var array<string, list<array{left: int, powered: bool, starts: bool}>> $steps kind → what is left from each step on */
        $steps = [];
        foreach ($lanes as $number => $devices) {
            $after = 0;
            $exclusive = 0;
            foreach (array_reverse($devices) as $device) {
                $steps[$device->kind->code] ??= self::fromEach($device->kind->steps);
                $duration = $steps[$device->kind->code][0]['left'] ?? 0;
                [] === $device->kind->steps || $all[$device->key] = [
                    'device' => $device,
                    'lane' => $number,
                    'behind' => $after,
                    'order' => \count($all),
                ];
                $after += $duration;
                $hands += array_sum(array_map(static fn (Step $step): int => $step->hands, $device->kind->steps));
                $exclusive += self::duration(self::powered($device->kind->steps));
                $longest = max($longest, $duration);
            }
            $longest = max($longest, \count($devices) > 1 ? $exclusive : 0);
        }
        $next = array_fill_keys(array_keys($all), 0);
        // Devices that could go on; when one is ready again, or a lane (#) free; and those that wait for a socket on the bench.
        [$ready, $coming, $portless] = [new Waiting(), new Waiting(), new Waiting()];
        /** @var array<int, list<string>> $waiting lane → devices that wait for it */
        $waiting = [];
        $urgency = static function (string $key) use ($all, $steps, &$next): array {
            $one = $all[$key];
            $at = $steps[$one['device']->kind->code][$next[$key]];

            // Others of its lane wait for it only until it holds its own address.
            return [$at['left'] + ($at['powered'] ? $one['behind'] : 0), -$one['lane'], -$one['order']];
        };
        foreach (array_keys($all) as $key) {
            $ready->put($key, ...$urgency($key));
        }
        $holdsLane = [];
        $freeAt = [];
        $slots = [];
        $now = 0;
        $finish = 0;
        while (true) {
            while (null !== $coming->first() && -$coming->first() <= $now) {
                $come = (string) $coming->take();
                $lane = '#' === $come[0] ? (int) substr($come, 1) : null;
                foreach (null === $lane ? [$come] : $waiting[$lane] ?? [] as $one) {
                    $ready->put($one, ...$urgency($one));
                }
                if (null !== $lane) {
                    unset($waiting[$lane]);
                }
            }
            $key = $ready->take();
            if (null === $key) {
                if (null === $coming->first()) {
                    break;
                }
                $now = -$coming->first();
                continue;
            }
            ['device' => $device, 'lane' => $lane] = $all[$key];
            $at = $steps[$device->kind->code][$next[$key]];
            if ($at['starts']) {
                if (isset($holdsLane[$lane]) || ($freeAt[$lane] ?? 0) > $now) {
                    $waiting[$lane][] = $key;
                    continue;
                }
                if (\count($holdsLane) >= $ports) {
                    $portless->put($key, ...$urgency($key));
                    continue;
                }
                $holdsLane[$lane] = $key;
            }
            $step = $device->kind->steps[$next[$key]];
            $to = $now + $step->hands;
            $slots[] = ['device' => $key, 'step' => $step->code, 'from' => $now, 'to' => $to, 'waits' => $to + $step->wait];
            $now = $to;
            $finish = max($finish, $to + $step->wait);
            ++$next[$key];
            $after = $steps[$device->kind->code][$next[$key]] ?? null;
            if (true !== ($after['powered'] ?? null) && ($holdsLane[$lane] ?? null) === $key) {
                // Once it has restarted it holds its target address, and the next of its lane may be powered.
                unset($holdsLane[$lane]);
                $freeAt[$lane] = $to + $step->wait;
                $coming->put('#'.$lane, -$freeAt[$lane]);
                $one = $portless->take();
                null === $one || $ready->put($one, ...$urgency($one));
            }
            if (null !== $after) {
                $coming->put($key, -($to + $step->wait));
            }
        }

        return new self($slots, $hands, max($hands, $longest), $finish);
    }

    /**
     * What is left from each step on: seconds, whether it may still hold its factory address, whether this step powers it.
     *
     * @param list<Step> $steps
     *
     * @return list<array{left: int, powered: bool, starts: bool}>
     */
    private static function fromEach(array $steps): array
    {
        return array_map(
            static fn (int $i): array => [
                'left' => self::duration(\array_slice($steps, $i)),
                'powered' => [] !== self::powered(\array_slice($steps, $i)),
                'starts' => self::startsPower($steps[$i]),
            ],
            array_keys($steps),
        );
    }

    private static function startsPower(Step $step): bool
    {
        return $step->does(Effect::Powers);
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
        $first = 0;
        $last = -1;
        foreach ($steps as $i => $step) {
            if ($step->does(Effect::Powers)) {
                $first = $i;
            }
            if ($step->does(Effect::Addresses) || $step->does(Effect::Restarts)) {
                $last = $i;
            }
        }

        return \array_slice($steps, $first, max(0, $last + 1 - $first));
    }

    /** @param list<Step> $steps */
    private static function duration(array $steps): int
    {
        return array_sum(array_map(static fn (Step $step): int => $step->hands + $step->wait, $steps));
    }
}
