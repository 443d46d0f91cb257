<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Allocation\FreeAddress;
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
    /** @param list<Stop> $stops */
    private function __construct(public array $stops)
    {
    }

    public static function of(Plan $plan): self
    {
        $fixed = [];
        $other = ['dhcp' => [], 'link-local' => [], 'by-hand' => []];
        foreach ($plan->devices as $device) {
            if ([] === $device->kind->steps) {
                continue;
            }
            $network = $device->factory->network();
            $how = match (true) {
                $device->kind->has(Role::Forwards) => 'by-hand',
                FactoryMode::Dhcp === $device->factory->mode => 'dhcp',
                // A phone that will live on a reservation is met where DHCP is served; it need not wait for its time-out.
                FactoryMode::DhcpThenFixed === $device->factory->mode && true === $device->nic()?->reserved => 'dhcp',
                FactoryMode::LinkLocal === $device->factory->mode => 'link-local',
                null === $network => 'by-hand',
                default => 'fixed',
            };
            if ('fixed' === $how) {
                $fixed[(string) $network][] = $device;
            } else {
                $other[$how][] = $device;
            }
        }
        /** @var list<array{string, list<non-empty-list<Device>>}> $drafts */
        $drafts = [];
        foreach (self::chains($plan, $fixed) as $chain) {
            foreach (self::partLanes($chain) as $lanes) {
                $drafts[] = ['fixed', $lanes];
            }
        }
        foreach ($other as $how => $devices) {
            if ([] !== $devices) {
                $drafts[] = [$how, array_map(static fn (Device $device): array => [$device], $devices)];
            }
        }
        // What others depend on comes first: switch, PBX and registrar before the phones.
        $rank = self::rank(...);
        usort($drafts, static fn (array $a, array $b): int => [$rank($a[1]), $a[0]] <=> [$rank($b[1]), $b[0]]);
        $stops = [];
        foreach ($drafts as [$how, $lanes]) {
            $stops[] = self::stop($plan, \count($stops) + 1, $how, $lanes);
        }

        return new self($stops);
    }

    /** @param list<non-empty-list<Device>> $lanes */
    private static function rank(array $lanes): int
    {
        $rank = \PHP_INT_MAX;
        foreach ($lanes as $lane) {
            foreach ($lane as $device) {
                $rank = min($rank, $device->kind->rank);
            }
        }

        return $rank;
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

    /** The first stop where something is left to do. */
    public function current(Plan $plan): ?Stop
    {
        return self::firstOpen($plan, $this->stops);
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
     * Factory networks that are the same or nest share a stop. Networks nest or are apart, never half and half, so the fewest stops are
     * as many as there are innermost networks; a wider one joins the first it contains, unless it would swallow a wire that is in use
     * there.
     *
     * @param array<string, list<Device>> $fixed network → devices
     *
     * @return list<list<Device>>
     */
    private static function chains(Plan $plan, array $fixed): array
    {
        $networks = array_map(Network::fromString(...), array_keys($fixed));
        usort(
            $networks,
            static fn (Network $a, Network $b): int => [
                -$a->mask->prefix,
                $a->address->number,
            ] <=> [-$b->mask->prefix, $b->address->number],
        );
        /** @var list<array{widest: Network, devices: list<Device>}> $chains */
        $chains = [];
        foreach ($networks as $network) {
            $devices = $fixed[(string) $network];
            foreach ($chains as $i => $chain) {
                if ($network->covers($chain['widest']) && !self::swallows($plan, $network, $chain['devices'])) {
                    $chains[$i] = ['widest' => $network, 'devices' => [...$chain['devices'], ...$devices]];
                    continue 2;
                }
            }
            $chains[] = ['widest' => $network, 'devices' => $devices];
        }

        return array_map(static fn (array $chain): array => $chain['devices'], $chains);
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

    /**
     * One lane a factory address. A device whose target is a factory address still to come on the wire goes after all that hold it; two
     * lanes that wait for each other part into two rounds.
     *
     * @param list<Device> $devices
     *
     * @return list<list<non-empty-list<Device>>> rounds of lanes
     */
    private static function partLanes(array $devices): array
    {
        $byAddress = [];
        foreach ($devices as $device) {
            $byAddress[(string) $device->factory->address][] = $device;
        }
        $late = [];
        foreach ($byAddress as $address => $lane) {
            // By rank, then roster; one that takes over a factory address as its own comes last.
            usort(
                $lane,
                static fn (Device $a, Device $b): int => [
                    self::target($a) === $address,
                    $a->kind->rank,
                    $a->position,
                ] <=> [self::target($b) === $address, $b->kind->rank, $b->position],
            );
            $byAddress[$address] = $lane;
            foreach ($lane as $i => $device) {
                $target = self::target($device);
                if ($target !== $address && isset($byAddress[$target])) {
                    $late[] = $device;
                    unset($byAddress[$address][$i]);
                }
            }
            $byAddress[$address] = array_values($byAddress[$address]);
        }
        $rounds = [array_values(array_filter($byAddress, static fn (array $lane): bool => [] !== $lane))];
        if ([] !== $late) {
            // Those who wait for one another in a circle have no target free for them on this wire: one by one, each in its own round.
            $rounds = [
                ...$rounds,
                ...(\count($late) === \count($devices) ? array_map(
                    static fn (Device $device): array => [[$device]],
                    $late,
                ) : self::partLanes($late)),
            ];
        }

        return array_values(array_filter($rounds, static fn (array $lanes): bool => [] !== $lanes));
    }

    private static function target(Device $device): ?string
    {
        return $device->nic()?->setting('address')->planned;
    }

    /** @param list<non-empty-list<Device>> $lanes */
    private static function stop(Plan $plan, int $number, string $how, array $lanes): Stop
    {
        usort($lanes, static fn (array $a, array $b): int => [$a[0]->kind->rank, $a[0]->position] <=> [$b[0]->kind->rank, $b[0]->position]);
        $devices = array_merge(...$lanes);
        $notes = [];
        $taken = [];
        foreach ($devices as $device) {
            foreach ([(string) $device->factory->address, self::target($device)] as $text) {
                $taken[$text ?? ''] = true;
            }
        }
        foreach ($lanes as $lane) {
            if (\count($lane) > 1) {
                $notes[] = new Message(
                    '{n} devices come with {address}: power them one after the other, in the order of their lane.',
                    ['n' => \count($lane), 'address' => (string) $lane[0]->factory->address],
                );
            }
        }
        $laptop = null;
        $mask = null;
        $second = [];
        $clashes = [];
        if ('fixed' === $how) {
            $networks = array_values(array_filter(array_map(
                static fn (Device $device): ?Network => $device->factory->network(),
                $devices,
            )));
            usort($networks, static fn (Network $a, Network $b): int => $b->mask->prefix <=> $a->mask->prefix);
            $inner = $networks[0];
            $widest = $networks[\count($networks) - 1];
            $mask = $widest->mask;
            $laptop = self::free($inner, $taken, $plan);
            foreach (self::targets($plan, $devices) as $key => $segment) {
                if ($segment->network->equals($widest)) {
                    continue;
                }
                if ($segment->network->overlaps($widest)) {
                    $clashes[] = $segment->name;
                    $notes[] = new Message(
                        'The factory network {factory} swallows {site} ({name}): both cannot be up on one laptop. Set all first, then '
                            .'move the laptop and verify.',
                        ['factory' => (string) $widest, 'site' => (string) $segment->network, 'name' => $segment->name],
                    );
                } else {
                    $second[$key] = $segment;
                }
            }
        } elseif ('link-local' === $how) {
            $mask = Mask::ofPrefix(16);
            $laptop = Ipv4::fromString('169.254.200.10');
        } elseif ('dhcp' === $how) {
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

        return new Stop($number, $how, $laptop, $mask, $addresses, $lanes, $notes);
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

    /** @param array<string, true> $taken */
    private static function free(Network $network, array $taken, Plan $plan): ?Ipv4
    {
        foreach ($plan->nics as $nic) {
            $taken[$nic->setting('address')->planned ?? ''] = true;
        }
        // From the upper end: factory addresses sit at the lower one.
        for ($number = $network->lastHost()->number; $number >= $network->firstHost()->number; --$number) {
            $address = Ipv4::fromNumber($number);
            if (!isset($taken[(string) $address])) {
                return $address;
            }
        }

        return null;
    }
}
