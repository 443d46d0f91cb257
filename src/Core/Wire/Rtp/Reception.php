<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

/**
 * What a receiver counts of one stream: expected, received, lost (RFC 3550 §A.3) and interarrival jitter (§6.4.1). Time is handed in, in
 * clock units of the stream.
 */
final class Reception
{
    private ?int $first = null;
    private int $highest = 0;
    private int $cycles = 0;
    private int $received = 0;
    private ?int $transit = null;
    private float $jitter = 0.0;
    private ?int $source = null;

    /** @param int|null $arrival null where the time of a packet says nothing of its way: a key that is held keeps that of its begin */
    public function take(RtpPacket $packet, ?int $arrival): void
    {
        if (null === $this->first || $packet->source !== $this->source) {
            $this->first = $this->highest = $packet->sequence;
            $this->source = $packet->source;
            $this->cycles = $this->received = 0;
            $this->transit = null;
            $this->jitter = 0.0;
        }
        ++$this->received;
        $ahead = ($packet->sequence - $this->highest) & 0xFFFF;
        if ($ahead > 0 && $ahead < 0x8000) {
            if ($packet->sequence < $this->highest) {
                $this->cycles += 0x10000;
            }
            $this->highest = $packet->sequence;
        }
        if (null === $arrival) {
            return;
        }
        $transit = ($arrival - $packet->timestamp) & 0xFFFFFFFF;
        if (null !== $this->transit) {
            $d = ($transit - $this->transit) & 0xFFFFFFFF;
            $d = $d > 0x7FFFFFFF ? 0x100000000 - $d : $d;
            $this->jitter += ($d - $this->jitter) / 16;
        }
        $this->transit = $transit;
    }

    public function receivedCount(): int
    {
        return $this->received;
    }

    public function expectedCount(): int
    {
        return null === $this->first ? 0 : $this->cycles + $this->highest - $this->first + 1;
    }

    public function lostCount(): int
    {
        return $this->expectedCount() - $this->received;
    }

    /** In clock units of the stream: at 8000 Hz, 8 are one millisecond. */
    public function jitter(): float
    {
        return $this->jitter;
    }

    public function source(): ?int
    {
        return $this->source;
    }

    /** The highest sequence number with its cycles, as a report carries it. */
    public function highest(): int
    {
        return $this->cycles + $this->highest;
    }
}
