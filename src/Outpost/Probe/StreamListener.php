<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtp\PlayMark;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\RtpPacket;

/** Joins the group of a stream for a while and measures rate, sender, loss and jitter (RFC 3550 §6.4.1, §A.3). */
final readonly class StreamListener
{
    /** A minute on a site; what the lab sends is even. */
    private const SECONDS = 60.0;
    private const SECONDS_IN_THE_LAB = 2.5;
    /** So much more or less than planned is what a rate does by itself. */
    private const TOLERANCE = 0.10;
    /** So many senders are told apart: who makes up more of them is heard all the same. */
    private const VOICES = 64;
    /** Share of all packets: below it the picture recovers, above it viewers see errors. */
    private const LOST = 0.01;

    public function __construct(private NetworkAccess $access)
    {
    }

    /** @throws NoAnswer if it is impossible to listen there */
    public function hear(Plan $plan, VantagePoint $place, GroupStream $planned): Evidence
    {
        $group = $planned->group->group->address;
        $socket = $this->access->listen($place, $group, $planned->port);
        /** @var array<string, array{from: Ipv4, source: int, bytes: int, scale: int, reception: Reception}> $heard */
        $heard = [];
        $seconds = $this->access->isOnSite() ? self::SECONDS : self::SECONDS_IN_THE_LAB;
        try {
            for ($until = microtime(true) + $seconds; ($left = $until - microtime(true)) > 0;) {
                $received = $socket->receive($left);
                $packet = null === $received ? null : self::packet($received[2]);
                if (null === $received || null === $packet) {
                    continue;
                }
                $played = $this->access->isOnSite() ? null : PlayMark::of($packet);
                if (null !== $played && !$played->group->equals($group)) {
                    continue;
                }
                $now = microtime(true);
                $key = $received[0].'#'.$packet->source;
                if (!isset($heard[$key]) && \count($heard) >= self::VOICES) {
                    continue;
                }
                $heard[$key] ??= [
                    'from' => $received[0],
                    'source' => $packet->source,
                    'bytes' => 0,
                    'scale' => $played->scale ?? 1,
                    'reception' => new Reception(),
                ];
                $heard[$key]['bytes'] += \strlen($packet->payload);
                $heard[$key]['reception']->take($packet, (int) round($now * $planned->clock) & 0xFFFFFFFF);
            }
        } finally {
            $socket->close();
        }

        return $this->judge($plan, $planned, array_values($heard), $seconds);
    }

    /** @param list<array{from: Ipv4, source: int, bytes: int, scale: int, reception: Reception}> $heard */
    private function judge(Plan $plan, GroupStream $planned, array $heard, float $seconds): Evidence
    {
        $to = $planned->group->group->address.':'.$planned->port;
        if ([] === $heard) {
            return new Evidence(Outcome::Silent, new Message('no sender to {group} was heard in {n} s', [
                'group' => $to,
                'n' => (int) ceil($seconds),
            ]));
        }
        $log = [];
        foreach ($heard as $one) {
            $log[] = \sprintf(
                '%s from %s, source %08x: %d of %d packets, %d bytes in %.1f s%s',
                $to,
                $one['from'],
                $one['source'],
                $one['reception']->receivedCount(),
                $one['reception']->expectedCount(),
                $one['bytes'],
                $seconds,
                1 === $one['scale'] ? '' : ', played at 1:'.$one['scale'],
            );
        }
        $whose = new SenderLookup($this->access);
        $one = $heard[0];
        $reception = $one['reception'];
        $kbit = $one['bytes'] * $one['scale'] * 8 / 1000 / $seconds;
        $lost = max(0, $reception->lostCount());
        $at = [
            'who' => $whose->name($plan, $one['from']),
            'kbit' => (int) round($kbit),
            'planned' => (int) round($planned->payload ?? 0.0),
            'lost' => $lost,
            'of' => $reception->expectedCount(),
            'jitter' => \sprintf('%.1f', 1000 * $reception->jitter() / $planned->clock),
            'scale' => $one['scale'],
            'all' => implode(', ', array_map(static fn (array $each): string => $whose->name($plan, $each['from']), $heard)),
        ];

        return new Evidence(...match (true) {
            \count($heard) > 1 => [Outcome::OtherHeard, new Message('{all} send to this group at once', $at)],
            !$whose->isAt($planned->sender, $one['from']) => [
                Outcome::OtherHeard,
                new Message('{who} sends to this group, and was not meant', $at),
            ],
            null !== $planned->payload && abs($kbit - $planned->payload) > self::TOLERANCE * $planned->payload => [
                Outcome::OtherHeard,
                new Message('{kbit} kbit/s came, and {planned} were planned', $at),
            ],
            $lost > self::LOST * $reception->expectedCount() => [Outcome::OtherHeard, new Message('{lost} of {of} packets were lost', $at)],
            default => [Outcome::Heard, new Message(
                $one['scale'] > 1
                    ? '{kbit} kbit/s from {who}, played at 1:{scale}; {lost} of {of} packets lost, jitter {jitter} ms'
                    : '{kbit} kbit/s from {who}; {lost} of {of} packets lost, jitter {jitter} ms',
                $at,
            )],
        }, lines: $log);
    }

    private static function packet(string $bytes): ?RtpPacket
    {
        try {
            return RtpPacket::fromString($bytes);
        } catch (ParseError) {
            return null;
        }
    }
}
