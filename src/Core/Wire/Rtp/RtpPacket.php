<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

use Vorhut\Core\Wire\ParseError;

/** An RTP packet (RFC 3550 §5.1). */
final readonly class RtpPacket implements \Stringable
{
    public function __construct(
        public int $type,
        public int $sequence,
        public int $timestamp,
        public int $source,
        public string $payload,
        public bool $marker = false,
        /** content of a header extension, preceded by its profile (§5.3.1) */
        public ?string $extension = null,
    ) {
    }

    /** @throws ParseError */
    public static function fromString(string $bytes): self
    {
        if (\strlen($bytes) < 12) {
            throw new ParseError('An RTP header has 12 bytes.');
        }
        /** @var array{a: int, b: int, sequence: int, timestamp: int, source: int} $head */
        $head = unpack('Ca/Cb/nsequence/Ntimestamp/Nsource', $bytes);
        if (2 !== $head['a'] >> 6) {
            throw new ParseError('Not RTP version 2.');
        }
        $start = 12 + 4 * ($head['a'] & 15);
        $more = null;
        if (0 !== ($head['a'] & 16)) {
            if (\strlen($bytes) < $start + 4) {
                throw new ParseError('The header extension is cut off.');
            }
            /** @var array{length: int} $extension */
            $extension = unpack('nlength', substr($bytes, $start + 2, 2));
            $more = substr($bytes, $start, 2).substr($bytes, $start + 4, 4 * $extension['length']);
            $start += 4 + 4 * $extension['length'];
        }
        $end = \strlen($bytes) - (0 !== ($head['a'] & 32) ? \ord($bytes[-1]) : 0);
        if ($end < $start) {
            throw new ParseError('Header and padding are longer than the packet.');
        }

        return new self(
            $head['b'] & 127,
            $head['sequence'],
            $head['timestamp'],
            $head['source'],
            substr($bytes, $start, $end - $start),
            0 !== ($head['b'] & 128),
            $more,
        );
    }

    public function __toString(): string
    {
        return pack(
            'CCnNN',
            null === $this->extension ? 0x80 : 0x90,
            ($this->marker ? 128 : 0) | $this->type,
            $this->sequence & 0xFFFF,
            $this->timestamp & 0xFFFFFFFF,
            $this->source & 0xFFFFFFFF,
        ).(
            null === $this->extension
            ? ''
            : substr($this->extension, 0, 2).pack('n', intdiv(\strlen($this->extension) - 2, 4)).substr($this->extension, 2)
        ).$this->payload;
    }
}
