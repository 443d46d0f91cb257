<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** An IPv6 network: its first address and how many bits are shared (RFC 4291 §2.3). */
final readonly class Network6 implements Subnet
{
    private function __construct(public Ipv6 $address, private int $prefix)
    {
    }

    public static function around(Ipv6 $host, int $prefix): self
    {
        return new self($host->mask($prefix), $prefix);
    }

    /**
     * Reads "2001:db8:64:10::/64".
     *
     * @param bool $strict refuse host bits, so that a typing error does not silently become another network
     *
     * @throws Malformed
     */
    public static function fromString(string $text, bool $strict = true): self
    {
        [$host, $prefix] = self::parts($text);
        $network = self::around($host, $prefix);
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

    /**
     * A host and the network it believes to be in, from "2001:db8:64:10::31/64".
     *
     * @return array{Ipv6, self}
     *
     * @throws Malformed
     */
    public static function interface(string $text): array
    {
        [$host, $prefix] = self::parts($text);

        return [$host, self::around($host, $prefix)];
    }

    public function prefix(): int
    {
        return $this->prefix;
    }

    public function contains(Address $address): bool
    {
        return $address instanceof Ipv6 && $address->mask($this->prefix)->equals($this->address);
    }

    /** It has no broadcast address, and hosts can use its first address like any other. */
    public function isEdge(Address $address): bool
    {
        return false;
    }

    /** Its first address is that of whichever router is on it (RFC 4291 §2.6.1), but on a wire between two (RFC 6164). */
    public function isOfItsRouters(Ipv6 $address): bool
    {
        return $this->prefix < 127 && $this->address->equals($address);
    }

    public function overlaps(self $other): bool
    {
        return $this->contains($other->address) || $other->contains($this->address);
    }

    public function equals(Subnet $other): bool
    {
        return $other instanceof self && $this->prefix === $other->prefix && $this->address->equals($other->address);
    }

    public static function keyAround(Address $address, int $prefix): string
    {
        return $address instanceof Ipv6 ? $address->mask($prefix)->key() : '';
    }

    public function __toString(): string
    {
        return $this->address.'/'.$this->prefix;
    }

    /**
     * @return array{Ipv6, int}
     *
     * @throws Malformed
     */
    private static function parts(string $text): array
    {
        if (1 !== preg_match('#^\s*([^\s/]+)\s*/\s*([0-9]{1,3})\s*$#D', $text, $found) || (int) $found[2] > 128) {
            throw Malformed::because(
                '"{text}": write an address of IPv6 and how many bits of it are the network, as 2001:db8:64:10::31/64.',
                ['text' => trim($text)],
            );
        }

        return [Ipv6::fromString($found[1]), (int) $found[2]];
    }
}
