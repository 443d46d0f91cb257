<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/**
 * An IPv4 multicast group (RFC 5771).
 *
 * Nothing calls it yet but its tests: streams and networked audio will.
 */
final readonly class Group implements \Stringable
{
    private function __construct(public Ipv4 $address)
    {
    }

    /** @throws Malformed */
    public static function fromString(string $text): self
    {
        $address = Ipv4::fromString($text);

        return $address->isMulticast()
            ? new self($address)
            : throw Malformed::because('{address} is no group: groups run from 224.0.0.0 to 239.255.255.255.', ['address' => $address]);
    }

    /** The MAC it is sent to: 01:00:5E and the low 23 bits, so that 32 groups share one (RFC 1112 §6.4). */
    public function mac(): string
    {
        return implode(':', str_split(\sprintf('01005E%06X', $this->address->number & 0x7FFFFF), 2));
    }

    public function collidesWith(self $other): bool
    {
        return !$this->address->equals($other->address) && $this->mac() === $other->mac();
    }

    public function __toString(): string
    {
        return (string) $this->address;
    }
}
