<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Net\Group;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Stream;

/** A multicast stream of RTP packets: every receiver that joins the group can count them. */
final readonly class GroupStream
{
    /** The default (RFC 3551 §8). */
    public const PORT = 5004;
    /** Ticks a second of the timestamps of pictures (RFC 3551 §5) and of sound at 48 kHz. */
    private const PICTURES = 90_000;
    private const SOUND = 48_000;
    private const BY_PACKETS = ['RTP', 'AES67', 'uncompressed'];

    private function __construct(
        public Stream $stream,
        public Device $sender,
        public MulticastGroup $group,
        public int $port,
        /** kbit/s of the payload, without headers; null if not set */
        public ?float $payload,
        public int $clock,
    ) {
    }

    /** Null if it is not such a stream, or has no group yet. */
    public static function of(Plan $plan, Stream $stream, Face $face = Face::Set): ?self
    {
        $row = null === $stream->group ? null : $plan->row('groups', $stream->group);
        $address = Ipv4::tryFromString(\is_string($row['address'] ?? null) ? $row['address'] : '');
        $sender = $plan->devices[$stream->sender] ?? null;
        if (!$stream->multicast || null === $address || null === $sender || !\in_array($stream->transport, self::BY_PACKETS, true)) {
            return null;
        }
        $rate = StreamRate::of($plan, $stream, $face);
        $isSound = 'L24' === $rate->codec;
        $ttl = $row['ttl'] ?? null;

        return new self(
            $stream,
            $sender,
            MulticastGroup::of($stream->name, Group::fromString((string) $address), $sender, \is_int($ttl) ? $ttl : null),
            $stream->port ?? self::PORT,
            $isSound ? PictureRate::soundPayload($stream->channels ?? 2) : $rate->kbit,
            $isSound ? self::SOUND : self::PICTURES,
        );
    }
}
