<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

use Vorhut\Core\Net\Ipv4;

/**
 * How a packet of the lab is marked as simulated: by how much its stream is scaled down, and its multicast group, because on loopback every
 * packet is unicast. Two elements of a header extension (RFC 8285 §4.2), which other receivers skip.
 */
final readonly class PlayMark
{
    private const PROFILE = "\xBE\xDE";
    private const SCALE = 1;
    private const GROUP = 2;

    public function __construct(public int $scale, public Ipv4 $group)
    {
    }

    public function extension(): string
    {
        $elements = \chr(self::SCALE << 4 | 3).pack('N', $this->scale).\chr(self::GROUP << 4 | 3).pack('N', $this->group->number);

        return self::PROFILE.str_pad($elements, 4 * (int) ceil(\strlen($elements) / 4), "\0");
    }

    public static function of(RtpPacket $packet): ?self
    {
        $bytes = $packet->extension ?? '';
        if (!str_starts_with($bytes, self::PROFILE)) {
            return null;
        }
        $found = [];
        for ($at = 2; $at < \strlen($bytes);) {
            [$id, $length] = [\ord($bytes[$at]) >> 4, (\ord($bytes[$at]) & 15) + 1];
            // A zero is padding between elements; fifteen ends them (§4.2).
            if (0 === $id) {
                ++$at;
                continue;
            }
            if (15 === $id || $at + 1 + $length > \strlen($bytes)) {
                break;
            }
            if (4 === $length) {
                /** @var array{1: int} $value */
                $value = unpack('N', $bytes, $at + 1);
                $found[$id] = $value[1];
            }
            $at += 1 + $length;
        }
        if (!isset($found[self::SCALE], $found[self::GROUP]) || $found[self::SCALE] < 1) {
            return null;
        }

        return new self($found[self::SCALE], Ipv4::fromNumber($found[self::GROUP]));
    }
}
