<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Fax;

use Vorhut\Core\Wire\ParseError;

/**
 * One UDPTL datagram with an indicator (ITU-T T.38 §7.3, §9.1): its number, the new indicator, and the previous ones again, so that a lost
 * one arrives with the next.
 */
final readonly class FaxPacket implements \Stringable
{
    /** How many come along again. */
    public const REDUNDANCY = 3;

    /** @param list<Indicator> $before the last ones that went out, the newest first */
    public function __construct(public int $number, public Indicator $says, public array $before = [])
    {
    }

    /** @throws ParseError if it is not a fax datagram, or contains something other than an indicator */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < 6 || \strlen($bytes) > 400) {
            throw new ParseError('This is not a UDPTL datagram.');
        }
        $number = unpack('n', $bytes)[1] ?? 0;
        $at = 2;
        $says = self::field($bytes, $at);
        // The redundant ones (§9.1.2); the other way of mending, by parity, is not spoken here.
        if ("\0" !== ($bytes[$at] ?? '')) {
            throw new ParseError('Parity error recovery is not supported.');
        }
        $count = \ord($bytes[$at + 1] ?? "\0");
        $at += 2;
        $before = [];
        for ($n = 0; $n < $count && $n < 16; ++$n) {
            $before[] = self::field($bytes, $at);
        }

        return new self(\is_int($number) ? $number : 0, $says, $before);
    }

    public function __toString(): string
    {
        $again = \array_slice($this->before, 0, self::REDUNDANCY);

        return pack('n', $this->number & 0xFFFF).self::bytes($this->says)
            ."\0".\chr(\count($again)).implode('', array_map(self::bytes(...), $again));
    }

    /** A length, then the packet: no data field, the kind of an indicator, which of them. */
    private static function bytes(Indicator $one): string
    {
        return "\x01".\chr($one->value << 1);
    }

    private static function field(string $bytes, int &$at): Indicator
    {
        $length = \ord($bytes[$at] ?? "\0");
        $first = \ord($bytes[$at + 1] ?? "\xFF");
        $at += 1 + $length;
        if (1 !== $length || $at > \strlen($bytes) || 0 !== ($first & 0xE1)) {
            throw new ParseError('Nothing but indicators is read here.');
        }

        return Indicator::tryFrom($first >> 1) ?? throw new ParseError('Unknown indicator.');
    }
}
