<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** One IPv4 address (RFC 791), held as an unsigned 32 bit number. */
final readonly class Ipv4 implements Address
{
    /** @param int<0, 4294967295> $number */
    private function __construct(public int $number)
    {
    }

    public static function fromNumber(int $number): self
    {
        if ($number < 0 || $number > 0xFFFFFFFF) {
            throw new Malformed('An IPv4 address has 32 bits.');
        }

        return new self($number);
    }

    /**
     * Reads dotted decimal, four octets. Leading zeros are refused because some programs read them as octal.
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        $text = trim($text);
        if ('' === $text) {
            throw new Malformed('An address is missing.');
        }
        $octets = explode('.', $text);
        if (4 !== \count($octets)) {
            throw Malformed::because('"{text}" is not an IPv4 address: it needs four numbers with dots between.', ['text' => $text]);
        }
        $number = 0;
        foreach ($octets as $octet) {
            if (1 !== preg_match('/^[0-9]{1,3}$/D', $octet)) {
                throw Malformed::because(
                    '"{text}" is not an IPv4 address: "{octet}" is not a number from 0 to 255.',
                    ['text' => $text, 'octet' => $octet],
                );
            }
            if (\strlen($octet) > 1 && '0' === $octet[0]) {
                throw Malformed::because(
                    '"{text}": write "{octet}" without leading zeros; some programs read them as octal.',
                    ['text' => $text, 'octet' => $octet],
                );
            }
            if ((int) $octet > 255) {
                throw Malformed::because(
                    '"{text}" is not an IPv4 address: {octet} is more than 255.',
                    ['text' => $text, 'octet' => $octet],
                );
            }
            $number = ($number << 8) | (int) $octet;
        }

        return self::fromNumber($number);
    }

    public static function tryFromString(string $text): ?self
    {
        $text = trim($text);
        // The same four octets without leading zeros; fromString() words the error.
        $octet = '(25[0-5]|2[0-4][0-9]|1[0-9][0-9]|[1-9]?[0-9])';
        if (1 !== preg_match("/^$octet\\.$octet\\.$octet\\.$octet$/D", $text, $o)) {
            return null;
        }

        return self::fromNumber((int) $o[1] << 24 | (int) $o[2] << 16 | (int) $o[3] << 8 | (int) $o[4]);
    }

    public function plus(int $steps): self
    {
        return self::fromNumber($this->number + $steps);
    }

    public function key(): int
    {
        return $this->number;
    }

    public function equals(Address $other): bool
    {
        return $other instanceof self && $this->number === $other->number;
    }

    /** An address that is not routed on the public network (RFC 1918 §3, RFC 6598 §7, RFC 3927). */
    public function isPrivate(): bool
    {
        foreach ([[0x0A000000, 8], [0xAC100000, 12], [0xC0A80000, 16], [0x64400000, 10], [0xA9FE0000, 16]] as [$block, $prefix]) {
            if ($this->number >> (32 - $prefix) === $block >> (32 - $prefix)) {
                return true;
            }
        }

        return false;
    }

    /** 169.254.0.0/16, RFC 3927. */
    public function isLinkLocal(): bool
    {
        return 0xA9FE0000 === ($this->number & 0xFFFF0000);
    }

    /** 224.0.0.0/4, RFC 5771. */
    public function isMulticast(): bool
    {
        return 0xE0000000 === ($this->number & 0xF0000000);
    }

    /** 127.0.0.0/8, RFC 1122 §3.2.1.3. */
    public function isLoopback(): bool
    {
        return 0x7F000000 === ($this->number & 0xFF000000);
    }

    /**
     * Whether a host may hold it at all: not 0.0.0.0/8, loopback, multicast, 240.0.0.0/4 (RFC 6890), nor the link-local
     * blocks kept back by RFC 3927 §2.1 (169.254.0.x and 169.254.255.x).
     *
     * @return string|null the reason why not, a whole sentence
     */
    public function whyNotAHost(): ?string
    {
        return match (true) {
            $this->number < 0x01000000 => \sprintf('%s cannot be given to a host: 0.x.x.x means "this network".', $this),
            $this->isLoopback() => \sprintf('%s cannot be given to a host: 127.x.x.x is the device itself.', $this),
            $this->isMulticast() => \sprintf('%s cannot be given to a host: it is a group address.', $this),
            $this->number >= 0xF0000000 => \sprintf('%s cannot be given to a host: 240.x.x.x and above are reserved.', $this),
            $this->isLinkLocal()
                && \in_array($this->number >> 8 & 0xFF, [0, 255], true) => \sprintf(
                    '%s cannot be given to a host: RFC 3927 keeps 169.254.0.x and 169.254.255.x back.',
                    $this,
                ),
            default => null,
        };
    }

    public function __toString(): string
    {
        return ($this->number >> 24).'.'.($this->number >> 16 & 255).'.'.($this->number >> 8 & 255).'.'.($this->number & 255);
    }
}
