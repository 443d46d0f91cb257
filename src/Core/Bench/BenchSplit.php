<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Device;

/**
 * Several benches, each with its own laptop and switch: a stop goes to the bench that is free first, or is split where that ends the day
 * earlier by more than the time to set up another laptop. Benches are separate networks, so devices with the same address may be powered on
 * each of them at once.
 */
final class BenchSplit
{
    /** @var non-empty-array<int, int> seconds of work given to each so far */
    private array $loads;

    public function __construct(private readonly BenchRoom $room)
    {
        $this->loads = array_fill(0, max(1, $room->benches), 0);
    }

    /** @return array<int, StopDraft> number of the bench, from 1 → its share of the stop */
    public function of(StopDraft $draft): array
    {
        if (1 === \count($this->loads)) {
            return [1 => $draft];
        }
        $whole = $this->loads;
        $least = (int) array_search(min($whole), $whole, true);
        $whole[$least] += BenchSchedule::MOVE + $this->seconds($draft->devices());
        $shared = $this->loads;
        $shares = [];
        foreach ($this->shares($draft) as $bench => $devices) {
            $shares[$bench + 1] = $draft->of($devices);
            $shared[$bench] += BenchSchedule::MOVE + $this->seconds($devices);
        }
        if (\count($shares) > 1 && max($shared) + BenchSchedule::MOVE < max($whole)) {
            $this->loads = $shared;

            return $shares;
        }
        $this->loads = $whole;

        return [$least + 1 => $draft];
    }

    /**
     * The longest first, each to the bench where it makes the day end earliest.
     *
     * @return array<int, non-empty-list<Device>> bench, from 0 → devices in the order of the roster
     */
    private function shares(StopDraft $draft): array
    {
        $devices = $draft->devices();
        $order = array_keys($devices);
        usort($order, static fn (int $a, int $b): int => [self::whole($devices[$b]), $a] <=> [self::whole($devices[$a]), $b]);
        $shares = [];
        $hands = $lanes = [];
        foreach ($order as $i) {
            $lane = StopKind::Fixed === $draft->how ? (string) $devices[$i]->factory->address : '#'.$i;
            $best = null;
            foreach ($this->loads as $bench => $load) {
                $ends = $load + max(
                    (($hands[$bench] ?? 0) + self::hands($devices[$i])) / $this->room->people,
                    ($lanes[$bench][$lane] ?? 0) + self::whole($devices[$i]),
                );
                if (null === $best || $ends < $best[0]) {
                    $best = [$ends, $bench];
                }
            }
            $bench = $best[1];
            $shares[$bench][$i] = $devices[$i];
            $hands[$bench] = ($hands[$bench] ?? 0) + self::hands($devices[$i]);
            $lanes[$bench][$lane] = ($lanes[$bench][$lane] ?? 0) + self::whole($devices[$i]);
        }
        ksort($shares);

        return array_map(static function (array $share): array {
            ksort($share);

            return array_values($share);
        }, $shares);
    }

    /**
     * How long so many take at least: all hands, or the longest lane.
     *
     * @param list<Device> $devices
     */
    private function seconds(array $devices): int
    {
        $hands = 0;
        $lanes = [0];
        foreach ($devices as $i => $device) {
            $hands += self::hands($device);
            $lane = null === $device->factory->address ? '#'.$i : (string) $device->factory->address;
            $lanes[$lane] = ($lanes[$lane] ?? 0) + self::whole($device);
        }

        return max((int) ceil($hands / $this->room->people), ...array_values($lanes));
    }

    private static function hands(Device $device): int
    {
        return (new BenchTask($device->key, 0, BenchTask::partsOf($device->steps)))->hands();
    }

    private static function whole(Device $device): int
    {
        $piece = new BenchTask($device->key, 0, BenchTask::partsOf($device->steps));

        return $piece->left[0] ?? 0;
    }
}
