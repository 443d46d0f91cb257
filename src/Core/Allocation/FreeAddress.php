<?php

declare(strict_types=1);

namespace Vorhut\Core\Allocation;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/** Which addresses of a segment are still free, and for which device. */
final class FreeAddress
{
    /** Hosts of a network in which the first is left free. */
    private const TO_SPARE = 6;
    /** What no host may hold: Ipv4::whyNotAHost() says why. */
    private const NO_HOSTS = [
        [0, 0x00FFFFFF], [0x7F000000, 0x7FFFFFFF], [0xE0000000, 0xFFFFFFFF], [0xA9FE0000, 0xA9FE00FF], [0xA9FEFF00, 0xA9FEFFFF],
    ];

    /** @var array<int, true> */
    private array $taken = [];
    /** @var array<string, int> kind → no address below is free for it */
    private array $from = [];

    /** @param array<int, array<string, true>> $holders address → keys of the ports that hold it */
    private function __construct(
        private readonly Segment $segment,
        private readonly array $holders,
        private readonly ?string $except,
    ) {
    }

    public static function on(Plan $plan, Segment $segment, ?Nic $except = null): self
    {
        $free = new self($segment, self::holders($plan), $except?->key);
        foreach (NamedAddresses::all($plan) as $address) {
            $free->taken[$address->number] = true;
        }
        foreach (self::laptops($plan) as $address) {
            $free->taken[$address->number] = true;
        }

        return $free;
    }

    /** @return list<Ipv4> where the laptop stands while devices with one of their factory addresses are on the bench */
    private static function laptops(Plan $plan): array
    {
        return $plan->derived->once(self::class, 'laptops', static function () use ($plan): array {
            $networks = [];
            foreach ($plan->devices as $device) {
                $network = $device->factory->network();
                if (null !== $network) {
                    $networks[(string) $network] = $network;
                }
            }

            return array_values(array_filter(array_map(
                static fn (Network $network): ?Ipv4 => LaptopAddress::in($plan, $network),
                $networks,
            )));
        });
    }

    /** @return array<int, array<string, true>> address → who holds it, on whatever face */
    private static function holders(Plan $plan): array
    {
        return $plan->derived->once(self::class, 'holders', static fn (): array => self::collectHolders($plan));
    }

    /** @return array<int, array<string, true>> */
    private static function collectHolders(Plan $plan): array
    {
        $holders = [];
        foreach ($plan->nics as $nic) {
            $value = $nic->setting('address');
            foreach (array_unique(array_filter([$value->planned, $value->set, $value->seen], is_string(...))) as $text) {
                $address = Ipv4::tryFromString($text);
                if (null !== $address) {
                    $holders[$address->number][$nic->key] = true;
                }
            }
            foreach ($nic->also as [$address]) {
                $holders[$address->number][$nic->key] = true;
            }
        }
        foreach ($plan->routerPorts as $port) {
            $holders[$port->address->number]['routerPorts/'.$port->key] = true;
        }

        return $holders;
    }

    /** A place for the outpost where the plan names none: the highest free host, outside every pool, reserved range and block. */
    public static function forOutpost(Plan $plan, Segment $segment): ?Ipv4
    {
        $free = self::on($plan, $segment);
        $number = $segment->network->lastHost()->number;
        while ($number >= $segment->network->firstHost()->number) {
            $obstacle = $free->obstacle($number, true);
            if (null === $obstacle) {
                return Ipv4::fromNumber($number);
            }
            $number = $obstacle[0] - 1;
        }

        return null;
    }

    public function take(Ipv4 $address): void
    {
        $this->taken[$address->number] = true;
    }

    /** Free for a static address: in the network, not its edge, not taken, in no pool and no reserved range. */
    public function isFree(Ipv4 $address): bool
    {
        return null === $this->obstacle($address->number, false);
    }

    /** The next free address for a kind: from its blocks where it has any, else from what no block claims. */
    public function next(string $kind): ?Ipv4
    {
        if ($this->segment->isSelfAssigned()) {
            return null;
        }
        $network = $this->segment->network;
        $blocks = self::ranges($this->segment->blocks, $kind);
        foreach ([] !== $blocks ? $blocks : [Range::of($network->firstHost(), $network->lastHost())] as $i => $range) {
            // A taken address stays taken, so each search continues after the last one.
            $number = max($range->first->number, $network->firstHost()->number, $this->from[$kind.'#'.$i] ?? 0);
            $last = min($range->last->number, $network->lastHost()->number);
            while ($number <= $last) {
                $obstacle = $this->obstacle($number, [] === $blocks);
                if (null === $obstacle && ([] !== $blocks || !$this->isKeptForARouter($number))) {
                    $this->from[$kind.'#'.$i] = $number;

                    return Ipv4::fromNumber($number);
                }
                $number = ($obstacle[1] ?? $number) + 1;
            }
            $this->from[$kind.'#'.$i] = $number;
        }

        return null;
    }

    /**
     * What keeps an address from being given, from its first to its last number; null where it is free. A search leaps over it, so that
     * its length does not matter: a network of sixteen million hosts is searched as fast as one of six.
     *
     * @param bool $blocks whether the blocks of kinds count as well
     *
     * @return array{int, int}|null
     */
    private function obstacle(int $number, bool $blocks): ?array
    {
        $network = $this->segment->network;
        if ($number < $network->firstHost()->number || $number > $network->lastHost()->number) {
            return [$number, $number];
        }
        foreach (self::NO_HOSTS as [$first, $last]) {
            if ($number >= $first && $number <= $last) {
                return [$first, $last];
            }
        }
        foreach ([
            ...$this->segment->pools,
            ...array_column($this->segment->reserved, 'range'),
            ...($blocks ? array_column($this->segment->blocks, 'range') : []),
        ] as $range) {
            if ($number >= $range->first->number && $number <= $range->last->number) {
                return [$range->first->number, $range->last->number];
            }
        }
        $holders = $this->holders[$number] ?? [];
        if (null !== $this->except) {
            unset($holders[$this->except]);
        }

        return [] !== $holders || isset($this->taken[$number]) ? [$number, $number] : null;
    }

    /**
     * The first address of a network is where its router is looked for, the one there is or the one that comes some day. It is given to
     * a device only where a block says so, or where the network has no address to spare.
     */
    private function isKeptForARouter(int $number): bool
    {
        return $number === $this->segment->network->firstHost()->number && $this->segment->network->hosts() > self::TO_SPARE;
    }

    public function hasBlock(string $kind): bool
    {
        return [] !== self::ranges($this->segment->blocks, $kind);
    }

    /**
     * @param list<array{range: Range, for: string}> $blocks
     *
     * @return list<Range>
     */
    private static function ranges(array $blocks, string $kind): array
    {
        return array_values(array_map(
            static fn (array $block): Range => $block['range'],
            array_filter($blocks, static fn (array $block): bool => $block['for'] === $kind),
        ));
    }
}
