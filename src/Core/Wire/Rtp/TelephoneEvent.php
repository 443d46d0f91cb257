<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

use Vorhut\Core\Wire\ParseError;

/** A key that is pressed in a call: the payload of a telephone-event packet (RFC 4733 §2.3). */
final readonly class TelephoneEvent implements \Stringable
{
    /** The payload type that is offered for it here; it has none of its own (§2.5.1.1). */
    public const TYPE = 101;
    /** Events 0 to 15 (§3.2). */
    private const KEYS = '0123456789*#ABCD';

    /**
     * @param string $key      one of 0 to 9, *, #, A to D
     * @param int    $duration since its begin, in clock units of the stream (8 are one millisecond)
     * @param int    $volume   below 0 dBm0, in dB, 0 to 63
     */
    public function __construct(public string $key, public int $duration, public bool $isEnd, public int $volume = 10)
    {
        if (1 !== \strlen($key) || !str_contains(self::KEYS, $key)) {
            throw new \InvalidArgumentException('No key of a phone: '.$key);
        }
    }

    /** @throws ParseError */
    public static function fromString(string $payload): self
    {
        if (\strlen($payload) < 4) {
            throw new ParseError('An event has four bytes.');
        }
        /** @var array{event: int, flags: int, duration: int} $found */
        $found = unpack('Cevent/Cflags/nduration', $payload);
        if ($found['event'] >= \strlen(self::KEYS)) {
            throw new ParseError('This event is not a telephone key.');
        }

        return new self(self::KEYS[$found['event']], $found['duration'], 0 !== ($found['flags'] & 0x80), $found['flags'] & 0x3F);
    }

    public static function isKey(string $text): bool
    {
        return 1 === \strlen($text) && str_contains(self::KEYS, $text);
    }

    public function __toString(): string
    {
        return pack(
            'CCn',
            (int) strpos(self::KEYS, $this->key),
            ($this->isEnd ? 0x80 : 0) | ($this->volume & 0x3F),
            min($this->duration, 0xFFFF),
        );
    }
}
