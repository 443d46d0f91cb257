<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sdp;

/** Which way a stream goes, as one end says it of itself (RFC 8866 §6.7). */
enum Direction: string
{
    case Both = 'sendrecv';
    case Sends = 'sendonly';
    case Hears = 'recvonly';
    case Neither = 'inactive';

    public function hears(): bool
    {
        return self::Both === $this || self::Hears === $this;
    }

    /** What the other end answers that goes along with it (RFC 3264 §6.1). */
    public function reverse(): self
    {
        return match ($this) {
            self::Sends => self::Hears,
            self::Hears => self::Sends,
            default => $this,
        };
    }
}
