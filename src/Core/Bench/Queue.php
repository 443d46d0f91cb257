<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Allocation\LaptopAddress;
use Vorhut\Core\Catalogue\FactoryMode;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
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
                $stops[] = self::stop($plan, \count($stops) + 1, $share, $unplug, $precedence, $room, $bench);
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
     * What others depend on comes first: whoever wakes up at an address before whoever will hold it, the PBX before what registers there,
     * and else by rank. Where two stops stand in each other's way, something has to be unplugged for a while.
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
     * Where somebody goes on: the first open stop of the bench at which they did something last, else of one where nobody has begun, else
     * of any.
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

    /** @param list<Message> $notes that come of the order of the stops */
    private static function stop(
        Plan $plan,
        int $number,
        StopDraft $draft,
        array $notes,
        Precedence $precedence,
        BenchRoom $room,
        int $bench,
    ): Stop {
        ['lanes' => $lanes, 'clear' => $clear, 'swaps' => $swaps] = $draft->lanes($precedence);
        $devices = array_merge(...$lanes);
        $taken = [];
        foreach ($devices as $device) {
            foreach ([(string) $device->factory->address, StopDraft::target($device)] as $text) {
                $taken[$text ?? ''] = true;
            }
        }
        if (StopKind::Fixed === $draft->how) {
            foreach ($lanes as $i => $lane) {
                if (\count($lane) > 1 && $i !== $swaps) {
                    $notes[] = new Message(
                        '{n} devices come with {address}: power them one after the other, in the order of their lane.',
                        ['n' => \count($lane), 'address' => (string) $lane[0]->factory->address],
                    );
                }
            }
        }
        $unfed = array_values(array_filter($devices, $room->cannotFeed(...)));
        if ([] !== $unfed) {
            $notes[] = new Message(
                '{tags}: the ports of the bench switch feed up to PoE class {class}, which is too little. Take an injector that feeds '
                    .'as much as the device wants.',
                [
                    'tags' => implode(', ', array_map(self::wanting(...), $unfed)),
                    'class' => $room->class->value ?? '',
                ],
            );
        }
        if (null !== $swaps) {
            $notes[] = new Message(
                '{tags} are to live where others of them wake up: one after the other, each unplugged as soon as it is set.',
                ['tags' => implode(', ', array_map(static fn (Device $device): string => $device->tag, $lanes[$swaps]))],
            );
        }
        $laptop = null;
        $mask = null;
        $second = [];
        if (StopKind::Fixed === $draft->how) {
            $networks = array_values(array_filter(array_map(
                static fn (Device $device): ?Network => $device->factory->network(),
                $devices,
            )));
            usort($networks, static fn (Network $a, Network $b): int => $b->mask->prefix <=> $a->mask->prefix);
            $inner = $networks[0];
            $widest = $networks[\count($networks) - 1];
            $mask = $widest->mask;
            $laptop = LaptopAddress::in($plan, $inner, $taken);
            if (null === $laptop) {
                $notes[] = new Message(
                    'No address is left in {network} for the laptop: take that of a device which is not powered, and change it before '
                        .'that one is.',
                    ['network' => (string) $inner],
                );
            }
            foreach (self::targets($plan, $devices) as $key => $segment) {
                if ($segment->network->equals($widest)) {
                    continue;
                }
                if ($segment->network->overlaps($widest)) {
                    $notes[] = new Message(
                        'The factory network {factory} swallows {site} ({name}): both cannot be up on one laptop. Set all first, then '
                            .'move the laptop and verify.',
                        ['factory' => (string) $widest, 'site' => (string) $segment->network, 'name' => $segment->name],
                    );
                } else {
                    $second[$key] = $segment;
                }
            }
        } elseif (StopKind::LinkLocal === $draft->how) {
            $mask = Mask::ofPrefix(16);
            $laptop = Ipv4::fromString('169.254.200.10');
        } elseif (StopKind::Dhcp === $draft->how) {
            $notes[] = new Message('The laptop or the segment\'s server gives out the reservations below.');
        } else {
            $notes[] = new Message('No laptop needed: done by hand or by the administrator.');
        }
        $addresses = [];
        foreach ($second as $key => $segment) {
            $address = $segment->outpost ?? FreeAddress::forOutpost($plan, $segment);
            if (null !== $address) {
                $addresses[] = ['segment' => $key, 'address' => $address, 'mask' => $segment->network->mask];
            }
        }

        return new Stop(
            $number,
            $draft->how,
            $laptop,
            $mask,
            $addresses,
            $lanes,
            $notes,
            static fn (?int $now, array $until): array => self::pieces($plan, $lanes, $clear, $precedence, $room, $now, $until),
            $room,
            $bench,
        );
    }

    private static function wanting(Device $device): string
    {
        return $device->tag.' ('.($device->kind->power?->poe()->value ?? '').')';
    }

    /**
     * @param list<list<Device>>    $lanes
     * @param array<string, list<int>> $clear device → lanes that have to be left before it is powered
     * @param int|null              $now   Unix time, from which on what is left is planned; null for all of it
     * @param array<string, array<string, int>> $until device → code of the step → seconds until it can be begun
     *
     * @return list<BenchTask>
     */
    private static function pieces(
        Plan $plan,
        array $lanes,
        array $clear,
        Precedence $precedence,
        BenchRoom $room,
        ?int $now,
        array $until,
    ): array {
        $numbers = array_flip(array_map(static fn (Device $device): string => $device->key, array_merge(...$lanes)));
        $pieces = [];
        foreach ($lanes as $lane => $devices) {
            foreach ($devices as $device) {
                $after = array_map(static fn (array $keys): array => array_values(array_filter(
                    array_map(static fn (string $key): ?int => $numbers[$key] ?? null, $keys),
                    is_int(...),
                )), $precedence->of($device));
                $sheet = RunSheet::of($plan, $device);
                $over = null === $now ? [] : $sheet->over();
                $pieces[] = new BenchTask(
                    $device->key,
                    $lane,
                    BenchTask::partsOf($device->steps, $over, $after, $until[$device->key] ?? []),
                    $clear[$device->key] ?? [],
                    null === $now ? 0 : max(0, $sheet->waitsUntil() - $now),
                    null !== $now && $sheet->isHookedUp(),
                    $room->allots($device),
                );
            }
        }

        return $pieces;
    }

    /**
     * @param list<Device> $devices
     *
     * @return array<string, Segment>
     */
    private static function targets(Plan $plan, array $devices): array
    {
        $targets = [];
        foreach ($devices as $device) {
            $segment = $plan->segmentOf($device);
            if (null !== $segment) {
                $targets[$segment->key] = $segment;
            }
        }
        ksort($targets);

        return $targets;
    }
}
