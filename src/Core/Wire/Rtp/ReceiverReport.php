<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

use Vorhut\Core\Wire\ParseError;

/** An RTCP receiver report with one block (RFC 3550 §6.4.2): what the far end says it heard. */
final readonly class ReceiverReport implements \Stringable
{
    private const TYPE = 201;

    public function __construct(
        public int $reporter,
        public int $source,
        public int $lost,
        public int $highest,
        public int $jitter,
        public int $fraction = 0,
    ) {
    }

    public static function of(Reception $reception, int $reporter): self
    {
        $expected = max(1, $reception->expectedCount());

        return new self(
            $reporter,
            $reception->source() ?? 0,
            $reception->lostCount(),
            $reception->highest(),
            (int) round($reception->jitter()),
            (int) max(0, 256 * $reception->lostCount() / $expected) & 255,
        );
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < 32 || 0x81 !== \ord($bytes[0]) || self::TYPE !== \ord($bytes[1])) {
            throw new ParseError('Not a receiver report with one block.');
        }
        /** @var array{reporter: int, source: int, loss: int, highest: int, jitter: int} $read */
        $read = unpack('Nreporter/Nsource/Nloss/Nhighest/Njitter', substr($bytes, 4));
        $lost = $read['loss'] & 0xFFFFFF;

        return new self(
            $read['reporter'],
            $read['source'],
            $lost > 0x7FFFFF ? $lost - 0x1000000 : $lost,
            $read['highest'],
            $read['jitter'],
            $read['loss'] >> 24,
        );
    }

    public function __toString(): string
    {
        return pack(
            'CCnNNNNNNN',
            0x81,
            self::TYPE,
            7,
            $this->reporter,
            $this->source,
            $this->fraction << 24 | $this->lost & 0xFFFFFF,
            $this->highest & 0xFFFFFFFF,
            $this->jitter,
            0,
            0,
        );
    }
}
