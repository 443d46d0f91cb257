<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\FactoryMode;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * The order of the bench: the fewest laptop settings that reach every factory-default device, each worked so that no two devices hold one
 * address at one time.
 */
final readonly class Queue
{
    /**
     * @param list<Stop> $stops
     * @param BenchSchedule        $day   all of them together, with what one bench waits for at another
     */
    private function __construct(public array $stops, public BenchSchedule $day)
    {
    }

    public static function of(Plan $plan): self
    {
        $lanes = self::lanes($plan);
        $precedence = new Precedence($plan);
        $room = BenchRoom::of($plan);
        $split = new BenchSplit($room);
        $stops = [];
        foreach (self::order($lanes, $precedence) as [$draft, $unplug]) {
            foreach ($split->of($draft) as $bench => $share) {
                $stops[] = (new StopBuilder($plan, $share, $unplug, $precedence, $room))->build(\count($stops) + 1, $bench);
            }
        }

        return new self($stops, new BenchSchedule($stops, $precedence));
    }

    /**
     * The stops, without their order.
     *
     * @return list<StopDraft>
     */
    private static function lanes(Plan $plan): array
    {
        $fixed = $falling = [];
        $other = ['dhcp' => [], 'link-local' => [], 'by-hand' => []];
        foreach ($plan->devices as $device) {
            if ([] === $device->kind->steps) {
                continue;
            }
            $network = $device->factory->network();
            $mode = $device->factory->mode;
            if ($device->kind->has(Role::Forwards)) {
                $other['by-hand'][] = $device;
            } elseif (FactoryMode::Dhcp === $mode || (FactoryMode::DhcpThenFixed === $mode && true === $device->nic()?->reserved)) {
                // A phone that will live on a reservation is met where DHCP is served; it need not wait for its time-out.
                $other['dhcp'][] = $device;
            } elseif (FactoryMode::LinkLocal === $mode) {
                $other['link-local'][] = $device;
            } elseif (null === $network) {
                $other['by-hand'][] = $device;
            } elseif (FactoryMode::DhcpThenFixed === $mode) {
                $falling[] = $device;
            } else {
                $fixed[] = $device;
            }
        }
        // What falls back from DHCP can be met either way: where DHCP is served anyhow it waits for nothing and has an address to itself.
        $chains = self::chains($plan, [...$fixed, ...$falling]);
        $without = [] === $falling ? $chains : self::chains($plan, $fixed);
        if ([] !== $falling && \count($without) + 1 <= \count($chains) + ([] === $other['dhcp'] ? 0 : 1)) {
            $serving = [] !== $other['dhcp'] || \count($without) + 1 < \count($chains);
            if ($serving) {
                $chains = $without;
                $other['dhcp'] = [...$other['dhcp'], ...$falling];
            }
        }
        $drafts = array_map(StopDraft::withFactoryAddress(...), $chains);
        foreach ($other as $how => $devices) {
            if ([] !== $devices) {
                $drafts[] = StopDraft::apart(StopKind::from($how), $devices);
            }
        }

        return $drafts;
    }

    /**
     * Dependencies come first: a device that starts at an address before the device that will use that address, the PBX before its phones,
     * and else by rank. Where two stops block each other, a device has to be unplugged for a while.
     *
     * @param list<StopDraft> $drafts
     *
     * @return list<array{StopDraft, list<Message>}>
     */
    private static function order(array $drafts, Precedence $precedence): array
    {
        $of = $wakes = [];
        foreach ($drafts as $number => $draft) {
            foreach ($draft->devices() as $device) {
                $of[$device->key] = $number;
                if (StopKind::Fixed === $draft->how) {
                    $wakes[(string) $device->factory->address][$number] = $device;
                }
            }
        }
        $addresses = $needs = [];
        foreach ($drafts as $number => $draft) {
            foreach ($draft->devices() as $device) {
                foreach ($wakes[StopDraft::target($device) ?? ''] ?? [] as $before => $holder) {
                    if ($before !== $number) {
                        $addresses[$number][$before] = new Message(
                            '{tag} will live at {address}, where {other} wakes up at a later stop: unplug {tag} until {other} is set.',
                            ['tag' => $device->tag, 'address' => (string) $holder->factory->address, 'other' => $holder->tag],
                        );
                    }
                }
                foreach (array_merge([], ...array_values($precedence->of($device))) as $before) {
                    if (isset($of[$before]) && $of[$before] !== $number) {
                        $needs[$number][$of[$before]] = true;
                    }
                }
            }
        }
        $order = [];
        $left = $drafts;
        while ([] !== $left) {
            $free = array_filter(
                array_keys($left),
                static fn (int $one): bool => [] === array_intersect_key(($addresses[$one] ?? []) + ($needs[$one] ?? []), $left),
            );
            $free = [] !== $free ? $free : array_filter(
                array_keys($left),
                static fn (int $one): bool => [] === array_intersect_key($addresses[$one] ?? [], $left),
            );
            $free = array_values([] !== $free ? $free : array_keys($left));
            usort($free, static fn (int $a, int $b): int => [$drafts[$a]->rank(), $drafts[$a]->how->value, $a] <=> [
                $drafts[$b]->rank(),
                $drafts[$b]->how->value,
                $b,
            ]);
            $next = $free[0];
            unset($left[$next]);
            $order[] = [$drafts[$next], array_values(array_intersect_key($addresses[$next] ?? [], $left))];
        }

        return $order;
    }

    public function stopOf(string $device): ?Stop
    {
        foreach ($this->stops as $stop) {
            if ($stop->holds($device)) {
                return $stop;
            }
        }

        return null;
    }

    /**
     * Where a person continues: the first open stop of the bench at which they worked last, else of a bench without work begun, else of
     * any.
     */
    public function currentFor(Plan $plan, string $who): ?Stop
    {
        $mine = null;
        $begun = $benches = [];
        foreach ($this->stops as $stop) {
            $benches[$stop->bench][] = $stop;
            foreach ($stop->devices() as $device) {
                $last = RunSheet::of($plan, $device)->lastHand();
                if (null !== $last) {
                    $begun[$stop->bench] = true;
                    $isLater = null === $mine || strtotime($last->at) > strtotime($mine[0]);
                    if ($last->by === $who && $isLater) {
                        $mine = [$last->at, $stop->bench];
                    }
                }
            }
        }
        foreach ([null === $mine ? [] : [$mine[1]], array_keys(array_diff_key($benches, $begun)), array_keys($benches)] as $some) {
            foreach ($some as $bench) {
                $open = self::firstOpen($plan, $benches[$bench]);
                if (null !== $open) {
                    return $open;
                }
            }
        }

        return null;
    }

    /** The first stop that needs the laptop and where something is left to do. */
    public function next(Plan $plan): ?Stop
    {
        return self::firstOpen($plan, array_filter($this->stops, static fn (Stop $stop): bool => null !== $stop->laptop));
    }

    /** @param array<Stop> $stops */
    private static function firstOpen(Plan $plan, array $stops): ?Stop
    {
        foreach ($stops as $stop) {
            foreach ($stop->devices() as $device) {
                if (!RunSheet::of($plan, $device)->isDone()) {
                    return $stop;
                }
            }
        }

        return null;
    }

    /**
     * Factory networks that are the same or nest share a stop, unless the wider one would swallow a wire that is in use there.
     *
     * @param list<Device> $devices
     *
     * @return list<list<Device>>
     */
    private static function chains(Plan $plan, array $devices): array
    {
        $by = [];
        foreach ($devices as $device) {
            $by[(string) $device->factory->network()][] = $device;
        }
        $networks = array_map(Network::fromString(...), array_keys($by));
        usort(
            $networks,
            static fn (Network $a, Network $b): int => [
                -$a->mask->prefix,
                $a->address->number,
            ] <=> [-$b->mask->prefix, $b->address->number],
        );
        $groups = array_map(static fn (Network $network): array => $by[(string) $network], $networks);
        $apart = static fn (int $narrow, int $wide): bool => self::swallows($plan, $networks[$wide], $groups[$narrow]);

        return array_map(
            static fn (array $chain): array => array_merge(...array_map(static fn (int $one): array => $groups[$one], $chain)),
            [] === $networks ? [] : NestedNetworks::of($networks, $apart),
        );
    }

    /** @param list<Device> $devices */
    private static function swallows(Plan $plan, Network $factory, array $devices): bool
    {
        foreach ($devices as $device) {
            $target = $plan->segmentOf($device)?->network;
            if (null !== $target && !$target->equals($factory) && $target->overlaps($factory)) {
                return true;
            }
        }

        return false;
    }
}
