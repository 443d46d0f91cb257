<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

use Vorhut\Core\Wire\ParseError;

/**
 * Which keys were pressed, out of a stream of packets: many packets tell of one press, all with the time at which it began, and the last
 * comes three times; some are lost (RFC 4733 §2.5.1.4, §2.5.2.3).
 */
final class KeyPresses
{
    /** @var array{int, int}|null source and time of the press that was told of last */
    private ?array $last = null;

    /** @return string|null the key, when a press is heard of for the first time */
    public function take(RtpPacket $packet, int $type): ?string
    {
        if ($packet->type !== $type) {
            return null;
        }
        try {
            $event = TelephoneEvent::fromString($packet->payload);
        } catch (ParseError) {
            return null;
        }
        $press = [$packet->source, $packet->timestamp];
        if ($press === $this->last) {
            return null;
        }
        $this->last = $press;

        return $event->key;
    }
}
