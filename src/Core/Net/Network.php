<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** An IPv4 network: its lowest address and a mask (RFC 4632). */
final readonly class Network implements Subnet
{
    public Ipv4 $address;

    private function __construct(Ipv4 $any, public Mask $mask)
    {
        $this->address = Ipv4::fromNumber($any->number & $mask->bits());
    }

    /** The network in which a host with this address and mask believes to be. */
    public static function around(Ipv4 $host, Mask $mask): self
    {
        return new self($host, $mask);
    }

    /**
     * Reads "10.64.20.0/24" or "10.64.20.0 255.255.255.0".
     *
     * @param bool $strict refuse host bits, so that a typing error does not silently become another network
     *
     * @throws Malformed
     */
    public static function fromString(string $text, bool $strict = true): self
    {
        $parts = preg_split('#\s*/\s*|\s+#', trim($text), 2);
        if (false === $parts || 2 !== \count($parts)) {
            throw Malformed::because('"{text}" is not a network: write it as 10.64.20.0/24.', ['text' => trim($text)]);
        }
        $host = Ipv4::fromString($parts[0]);
        $network = new self($host, Mask::fromString($parts[1]));
        if ($strict && !$network->address->equals($host)) {
            throw Malformed::because(
                '"{text}" is an address inside a network, not a network: did you mean {network}?',
                ['text' => trim($text), 'network' => $network],
            );
        }

        return $network;
    }

    public static function tryFromString(string $text): ?self
    {
        try {
            return self::fromString($text);
        } catch (Malformed) {
            return null;
        }
    }

    public function broadcast(): Ipv4
    {
        return Ipv4::fromNumber($this->address->number | ~$this->mask->bits() & 0xFFFFFFFF);
    }

    public function firstHost(): Ipv4
    {
        return $this->hasEdges() ? $this->address->plus(1) : $this->address;
    }

    public function lastHost(): Ipv4
    {
        return $this->hasEdges() ? $this->broadcast()->plus(-1) : $this->broadcast();
    }

    /** How many hosts fit: 2^n - 2, but two on a /31 (RFC 3021) and one on a /32. */
    public function hosts(): int
    {
        return $this->lastHost()->number - $this->firstHost()->number + 1;
    }

    public function prefix(): int
    {
        return $this->mask->prefix;
    }

    public static function keyAround(Address $address, int $prefix): int|string
    {
        return $address instanceof Ipv4 ? $address->number & (0xFFFFFFFF << (32 - $prefix)) & 0xFFFFFFFF : '';
    }

    public function contains(Address $address): bool
    {
        return $address instanceof Ipv4 && ($address->number & $this->mask->bits()) === $this->address->number;
    }

    public function covers(self $other): bool
    {
        return $other->mask->prefix >= $this->mask->prefix && $this->contains($other->address);
    }

    public function overlaps(self $other): bool
    {
        return $this->covers($other) || $other->covers($this);
    }

    /** Whether the address is the network's own or its broadcast address, which no host may hold. */
    public function isEdge(Address $address): bool
    {
        return $this->hasEdges() && ($address->equals($this->address) || $address->equals($this->broadcast()));
    }

    public function equals(Subnet $other): bool
    {
        return $other instanceof self && $this->mask->prefix === $other->mask->prefix && $this->address->equals($other->address);
    }

    /**
     * Its parts of one size.
     *
     * @return list<self>
     *
     * @throws Malformed where they are larger than it, or more than can be looked at
     */
    public function split(int $prefix): array
    {
        $mask = Mask::ofPrefix($prefix);
        if ($prefix < $this->mask->prefix || $prefix - $this->mask->prefix > 16) {
            throw Malformed::because('{network} has no parts of /{prefix}: from {mask} to at most /{most}.', [
                'network' => $this,
                'prefix' => $prefix,
                'mask' => $this->mask,
                'most' => min(32, $this->mask->prefix + 16),
            ]);
        }
        $parts = [];
        for ($n = 0; $n < 1 << ($prefix - $this->mask->prefix); ++$n) {
            $parts[] = new self($this->address->plus($n << (32 - $prefix)), $mask);
        }

        return $parts;
    }

    /**
     * The fewest networks that hold exactly what these hold (RFC 4632 §5).
     *
     * @param list<self> $networks
     *
     * @return list<self>
     */
    public static function merge(array $networks): array
    {
        usort($networks, static fn (self $a, self $b): int => $a->address->number <=> $b->address->number
            ?: $a->mask->prefix <=> $b->mask->prefix);
        $joined = [];
        foreach ($networks as $next) {
            while (true) {
                $last = array_pop($joined);
                if (null === $last) {
                    $joined[] = $next;
                    break;
                }
                if ($last->covers($next)) {
                    $next = $last;
                    continue;
                }
                $wider = $last->mask->prefix > 0 ? new self($last->address, Mask::ofPrefix($last->mask->prefix - 1)) : $last;
                $isOther = $last->mask->prefix === $next->mask->prefix && $wider->contains($next->address);
                if ($isOther && $wider->address->equals($last->address)) {
                    $next = $wider;
                    continue;
                }
                $joined[] = $last;
                $joined[] = $next;
                break;
            }
        }

        return $joined;
    }

    public function range(): Range
    {
        return Range::of($this->address, $this->broadcast());
    }

    public function __toString(): string
    {
        return $this->address.$this->mask;
    }

    private function hasEdges(): bool
    {
        return $this->mask->prefix < 31;
    }
}
