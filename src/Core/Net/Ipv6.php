<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** One IPv6 address (RFC 4291), held as its 16 bytes; written as RFC 5952 asks. */
final readonly class Ipv6 implements Address
{
    private function __construct(private string $bytes)
    {
    }

    /** @param string $bytes 16 octets in network order */
    public static function fromBytes(string $bytes): self
    {
        return 16 === \strlen($bytes) ? new self($bytes) : throw new Malformed('An IPv6 address has 128 bits.');
    }

    /**
     * Reads what RFC 4291 §2.2 allows: groups, `::` once, the last 32 bits with dots.
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        return self::tryFromString($text) ?? throw Malformed::because(
            '"{text}" is not an IPv6 address: write it as 2001:db8:64:10::31.',
            ['text' => trim($text)],
        );
    }

    public static function tryFromString(string $text): ?self
    {
        $text = trim($text);
        // A zone names an interface of one machine (RFC 4007 §11): no plan can hold it.
        $bytes = str_contains($text, ':') && 1 === preg_match('/^[0-9a-f:.]{2,45}$/Di', $text) ? @inet_pton($text) : false;

        return false === $bytes || 16 !== \strlen($bytes) ? null : new self($bytes);
    }

    public function key(): string
    {
        return $this->bytes;
    }

    public function equals(Address $other): bool
    {
        return $other instanceof self && $this->bytes === $other->bytes;
    }

    /** fe80::/10, RFC 4291 §2.5.6. */
    public function isLinkLocal(): bool
    {
        return $this->startsWith("\xFE\x80", 10);
    }

    /** ff00::/8, RFC 4291 §2.7. */
    public function isMulticast(): bool
    {
        return $this->startsWith("\xFF", 8);
    }

    /** fc00::/7, RFC 4193, or link-local: not routed on the public network. */
    public function isPrivate(): bool
    {
        return $this->startsWith("\xFC", 7) || $this->isLinkLocal();
    }

    public function whyNotAHost(): ?string
    {
        return match (true) {
            $this->bytes === str_repeat("\0", 16) => \sprintf('%s cannot be given to a host: it means "none yet".', $this),
            $this->bytes === str_repeat("\0", 15)."\1" => \sprintf('%s cannot be given to a host: it is the device itself.', $this),
            $this->isMulticast() => \sprintf('%s cannot be given to a host: it is a group address.', $this),
            $this->startsWith(str_repeat("\0", 10)."\xFF\xFF", 96) => \sprintf(
                '%s cannot be given to a host: it is an IPv4 address written as one of IPv6.',
                $this,
            ),
            default => null,
        };
    }

    /** Its first bits, the others zero. */
    public function mask(int $prefix): self
    {
        $whole = intdiv($prefix, 8);
        $bytes = substr($this->bytes, 0, $whole);
        if ($whole < 16) {
            $bytes .= \chr(\ord($this->bytes[$whole]) & (0xFF00 >> $prefix % 8) & 0xFF);
        }

        return new self(str_pad($bytes, 16, "\0"));
    }

    public function __toString(): string
    {
        // RFC 5952 §4: as the system writes it, except for IPv4-mapped addresses, which are not used here.
        return (string) inet_ntop($this->bytes);
    }

    private function startsWith(string $bytes, int $bits): bool
    {
        return $this->mask($bits)->bytes === (new self(str_pad($bytes, 16, "\0")))->mask($bits)->bytes;
    }
}
