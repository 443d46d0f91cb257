<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Device;

/** The devices that one setting of the laptop reaches, before anybody says in which order. */
final readonly class StopDraft
{
    /**
     * @param list<Device> $devices
     */
    private function __construct(public StopKind $how, private array $devices)
    {
    }

    /** @param list<Device> $devices that wake up at addresses of their own kind */
    public static function withFactoryAddress(array $devices): self
    {
        return new self(StopKind::Fixed, $devices);
    }

    /** @param list<Device> $devices each with an address to itself, or none */
    public static function apart(StopKind $how, array $devices): self
    {
        return new self($how, $devices);
    }

    /** @return list<Device> */
    public function devices(): array
    {
        return $this->devices;
    }

    /** @param list<Device> $devices those of its devices that are worked at one bench of several */
    public function of(array $devices): self
    {
        return new self($this->how, $devices);
    }

    public function rank(): int
    {
        return min(\PHP_INT_MAX, ...array_map(static fn (Device $device): int => $device->kind->rank, $this->devices));
    }

    /** The address that it will hold. */
    public static function target(Device $device): ?string
    {
        return $device->nic()?->setting('address')->planned;
    }

    /**
     * One lane a factory address. A device that will hold what others wake up at is powered when all of those have left; where that goes
     * round in a circle, those in it come last, in a lane of their own.
     *
     * @return array{lanes: list<non-empty-list<Device>>, clear: array<string, list<int>>, swaps: int|null}
     *     the lanes; device → lanes that have to be left before it is powered; which lane is that of the circle
     */
    public function lanes(Precedence $precedence): array
    {
        $by = [];
        foreach ($this->devices as $device) {
            $by[StopKind::Fixed === $this->how ? (string) $device->factory->address : '#'.$device->key][] = $device;
        }
        [$by, $swapping] = $this->withoutCircles($by);
        $before = [];
        foreach ($this->devices as $device) {
            $before[$device->key] = array_merge([], ...array_values($precedence->of($device)));
        }
        $lanes = [];
        foreach ($by as $address => $lane) {
            // By need, rank and roster; one that keeps its factory address as its own comes last.
            $lanes[$address] = self::byNeed($lane, $before, (string) $address);
        }
        uasort($lanes, static fn (array $a, array $b): int => self::place($a[0]) <=> self::place($b[0]));
        $lanes = self::inOrder($lanes);
        $number = array_flip(array_map(strval(...), array_keys($lanes)));
        $clear = [];
        foreach ($lanes as $address => $lane) {
            foreach ($lane as $device) {
                $target = self::target($device) ?? '';
                if ($target !== (string) $address && isset($number[$target])) {
                    $clear[$device->key] = [$number[$target]];
                }
            }
        }
        foreach ($swapping as $device) {
            $clear[$device->key] = array_values(array_intersect_key($number, array_flip(array_map(
                static fn (Device $one): string => (string) $one->factory->address,
                $swapping,
            ))));
        }
        $all = array_values($lanes);
        if ([] === $swapping) {
            return ['lanes' => $all, 'clear' => $clear, 'swaps' => null];
        }

        return ['lanes' => [...$all, $swapping], 'clear' => $clear, 'swaps' => \count($all)];
    }

    /** @return array{int, int} by rank, then roster */
    private static function place(Device $device): array
    {
        return [$device->kind->rank, $device->position];
    }

    /**
     * Lanes that have to be left before others are worked at come first.
     *
     * @param array<string, non-empty-list<Device>> $lanes without a circle
     *
     * @return array<string, non-empty-list<Device>>
     */
    private static function inOrder(array $lanes): array
    {
        $targets = array_map(
            static fn (array $lane): array => array_flip(array_map(
                static fn (Device $device): string => self::target($device) ?? '',
                $lane,
            )),
            $lanes,
        );
        $ordered = [];
        $place = static function (string $address) use (&$place, &$ordered, $lanes, $targets): void {
            if (isset($ordered[$address])) {
                return;
            }
            foreach (array_keys(array_intersect_key($lanes, $targets[$address])) as $before) {
                if ((string) $before !== $address) {
                    $place((string) $before);
                }
            }
            $ordered[$address] = $lanes[$address];
        };
        foreach (array_keys($lanes) as $address) {
            $place((string) $address);
        }

        /** @var array<string, non-empty-list<Device>> $ordered */
        return $ordered;
    }

    /**
     * @param array<string, non-empty-list<Device>> $by address → devices that wake up there
     *
     * @return array{array<string, non-empty-list<Device>>, list<Device>} the lanes without those in a circle, and those
     */
    private function withoutCircles(array $by): array
    {
        $leads = [];
        foreach ($by as $address => $lane) {
            foreach ($lane as $device) {
                $target = self::target($device) ?? '';
                if ($target !== (string) $address && isset($by[$target])) {
                    $leads[(string) $address][$target] = true;
                }
            }
        }
        $reaches = static function (string $from, string $to) use ($leads): bool {
            $seen = [];
            $open = array_keys($leads[$from] ?? []);
            while ([] !== $open) {
                $at = (string) array_pop($open);
                if ($at === $to) {
                    return true;
                }
                if (!isset($seen[$at])) {
                    $seen[$at] = true;
                    $open = [...$open, ...array_keys($leads[$at] ?? [])];
                }
            }

            return false;
        };
        $swapping = [];
        foreach ($by as $address => $lane) {
            foreach ($lane as $i => $device) {
                $target = self::target($device) ?? '';
                if ($target !== (string) $address && isset($by[$target]) && $reaches($target, (string) $address)) {
                    $swapping[] = $device;
                    unset($lane[$i]);
                }
            }
            if ([] === $lane) {
                unset($by[$address]);
            } else {
                $by[$address] = array_values($lane);
            }
        }

        return [$by, $swapping];
    }

    /**
     * @param non-empty-list<Device>      $lane
     * @param array<string, list<string>> $before device → devices that have to be finished before
     *
     * @return non-empty-list<Device>
     */
    private static function byNeed(array $lane, array $before, string $address): array
    {
        usort($lane, static fn (Device $a, Device $b): int => [
            self::target($a) === $address,
            $a->kind->rank,
            $a->position,
        ] <=> [self::target($b) === $address, $b->kind->rank, $b->position]);
        $there = array_flip(array_map(static fn (Device $device): string => $device->key, $lane));
        if ([] === array_intersect_key($there, array_flip(array_merge([], ...array_values(array_intersect_key($before, $there)))))) {
            return $lane;
        }
        $sorted = $placed = [];
        while ([] !== $lane) {
            $next = 0;
            foreach ($lane as $i => $device) {
                if ([] === array_diff_key(array_intersect_key(array_flip($before[$device->key] ?? []), $there), $placed)) {
                    $next = $i;
                    break;
                }
            }
            $sorted[] = $lane[$next];
            $placed[$lane[$next]->key] = true;
            unset($lane[$next]);
            $lane = array_values($lane);
        }

        return $sorted;
    }
}
