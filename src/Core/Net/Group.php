<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** An IPv4 multicast group (RFC 5771). */
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
            : throw Malformed::because('{address} is not a multicast group: use 224.0.0.0 to 239.255.255.255.', ['address' => $address]);
    }

    /** The MAC it is sent to: 01:00:5E and the low 23 bits, so that 32 groups share one (RFC 1112 §6.4). */
    public function mac(): string
    {
        return implode(':', str_split(\sprintf('01005E%06X', $this->address->number & 0x7FFFFF), 2));
    }

    /**
     * The other groups that go to the same MAC: of 32 only the low 23 bits count.
     *
     * @return list<self>
     */
    public function twins(): array
    {
        $twins = [];
        for ($high = 0; $high < 32; ++$high) {
            $number = 0xE0000000 | $high << 23 | ($this->address->number & 0x7FFFFF);
            if ($number !== $this->address->number) {
                $twins[] = new self(Ipv4::fromNumber($number));
            }
        }

        return $twins;
    }

    /** How far it goes: 224.0.0.0/24 never leaves its wire (RFC 5771 §4); 239.0.0.0/8 stays within a site (RFC 2365 §6). */
    public function scope(): string
    {
        $number = $this->address->number;

        return match (true) {
            0xE0000000 === ($number & 0xFFFFFF00) => 'link',
            0xEFFF0000 === ($number & 0xFFFF0000) => 'site',
            0xEFC00000 === ($number & 0xFFFC0000) => 'organisation',
            0xEF000000 === ($number & 0xFF000000) => 'administrative',
            0xE8000000 === ($number & 0xFF000000) => 'source-specific',
            default => 'global',
        };
    }

    public function __toString(): string
    {
        return (string) $this->address;
    }
}
