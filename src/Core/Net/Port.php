<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** A port with its transport: 5060/udp is another service than 5060/tcp. */
final readonly class Port implements \Stringable
{
    private function __construct(public Transport $transport, public int $number)
    {
    }

    public static function udp(int $number): self
    {
        return self::of(Transport::Udp, $number);
    }

    public static function tcp(int $number): self
    {
        return self::of(Transport::Tcp, $number);
    }

    /**
     * As one asks for it in a form: nothing, or 0, asks for no port.
     *
     * @throws Malformed
     */
    public static function parse(string $transport, string $number): ?self
    {
        return '' === $number || '0' === $number
            ? null
            : self::of(Transport::tryFrom($transport) ?? Transport::Tcp, ctype_digit($number) ? (int) $number : 0);
    }

    public static function of(Transport $transport, int $number): self
    {
        if ($number < 1 || $number > 65535) {
            throw Malformed::because('{number} is not a port: ports run from 1 to 65535.', ['number' => $number]);
        }

        return new self($transport, $number);
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
     * Reads "5060/udp".
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        if (1 !== preg_match('#^([0-9]{1,5})/(udp|tcp)$#D', strtolower(trim($text)), $found)) {
            throw Malformed::because('"{text}" is not a port: write it as 5060/udp or 80/tcp.', ['text' => trim($text)]);
        }

        return self::of(Transport::from($found[2]), (int) $found[1]);
    }

    public function equals(self $other): bool
    {
        return $this->number === $other->number && $this->transport === $other->transport;
    }

    public function __toString(): string
    {
        return $this->number.'/'.$this->transport->value;
    }
}
