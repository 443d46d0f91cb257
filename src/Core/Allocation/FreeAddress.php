<?php

declare(strict_types=1);

namespace Vorhut\Core\Allocation;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Range;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/** Which addresses of a segment are still free, and for whom. */
final class FreeAddress
{
    /** @var array<int, true> */
    private array $taken = [];

    private function __construct(private readonly Segment $segment)
    {
    }

    public static function on(Plan $plan, Segment $segment, ?Nic $except = null): self
    {
        $free = new self($segment);
        foreach ($plan->nics as $nic) {
            foreach ($nic->key === $except?->key ? [] : [$nic->address->planned, $nic->address->set, $nic->address->seen] as $text) {
                $address = Ipv4::tryFromString($text ?? '');
                if (null !== $address) {
                    $free->taken[$address->number] = true;
                }
            }
        }
        foreach ($plan->routerPorts as $port) {
            $free->taken[$port->address->number] = true;
        }
        foreach ([$segment->gateway, $segment->dns, $segment->outpost] as $address) {
            if (null !== $address) {
                $free->taken[$address->number] = true;
            }
        }

        return $free;
    }

    /**
     * A place for the outpost where the plan names none: the highest free host, outside every pool, reserved range and block.
     */
    public static function forOutpost(Plan $plan, Segment $segment): ?Ipv4
    {
        $free = self::on($plan, $segment);
        for ($number = $segment->network->lastHost()->number; $number >= $segment->network->firstHost()->number; --$number) {
            $address = Ipv4::fromNumber($number);
            if ($free->isFree($address) && null === $free->blockWith($address)) {
                return $address;
            }
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
        return $this->segment->network->contains($address)
            && !$this->segment->network->isEdge($address)
            && null === $address->whyNotAHost()
            && !isset($this->taken[$address->number])
            && null === $this->segment->poolWith($address)
            && null === $this->reservedWith($address);
    }

    /** The next free address for a kind: from its blocks where it has any, else from what no block claims. */
    public function next(string $kind): ?Ipv4
    {
        $blocks = self::ranges($this->segment->blocks, $kind);
        foreach ([] !== $blocks ? $blocks : [Range::of($this->segment->network->firstHost(), $this->segment->network->lastHost())] as $range) {
            foreach ($range->addresses() as $address) {
                if ($this->isFree($address) && ([] !== $blocks || null === $this->blockWith($address))) {
                    return $address;
                }
            }
        }

        return null;
    }

    public function hasBlock(string $kind): bool
    {
        return [] !== self::ranges($this->segment->blocks, $kind);
    }

    private function reservedWith(Ipv4 $address): ?string
    {
        foreach ($this->segment->reserved as $reserved) {
            if ($reserved['range']->contains($address)) {
                return $reserved['for'];
            }
        }

        return null;
    }

    private function blockWith(Ipv4 $address): ?string
    {
        foreach ($this->segment->blocks as $block) {
            if ($block['range']->contains($address)) {
                return $block['for'];
            }
        }

        return null;
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
