<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Lighting\UniversePatch;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sacn\SacnPacket;

/** Listens to one universe for a while, and reports its senders, and the one that a node would follow (ANSI E1.31 §6.2.3). */
final readonly class LightListener
{
    /** A sender that says nothing for that long is gone (E1.31 §6.7.1): all that send are heard in it. */
    public const SECONDS = 2.5;
    /** So many are told apart: who makes up more of them is heard all the same. */
    private const VOICES = 64;

    public function __construct(private NetworkAccess $access)
    {
    }

    /** @throws NoAnswer if it is impossible to listen there */
    public function hear(VantagePoint $place, UniversePatch $planned): Evidence
    {
        $socket = $this->access->listen($place, $planned->universe->group(), Universe::PORT);
        /** @var array<string, array{packet: SacnPacket, from: Ipv4, count: int}> $heard CID → packets received */
        $heard = [];
        try {
            for ($until = microtime(true) + self::SECONDS; ($left = $until - microtime(true)) > 0;) {
                $received = $socket->receive($left);
                $packet = null === $received ? null : self::packet($received[2]);
                if (null === $received || null === $packet || $packet->universe !== $planned->universe->number || $packet->isPreview) {
                    continue;
                }
                $key = bin2hex($packet->cid);
                if ($packet->isOver) {
                    unset($heard[$key]);
                    continue;
                }
                if (!isset($heard[$key]) && \count($heard) >= self::VOICES) {
                    continue;
                }
                $heard[$key] = ['packet' => $packet, 'from' => $received[0], 'count' => 1 + ($heard[$key]['count'] ?? 0)];
            }
        } finally {
            $socket->close();
        }

        return $this->judge($planned, array_values($heard));
    }

    /** @param list<array{packet: SacnPacket, from: Ipv4, count: int}> $heard */
    private function judge(UniversePatch $planned, array $heard): Evidence
    {
        usort($heard, static fn (array $a, array $b): int => $b['packet']->priority <=> $a['packet']->priority);
        $log = array_map(static fn (array $one): string => \sprintf(
            'universe %d from "%s" at %s, priority %d, %d packets in %.1f s',
            $one['packet']->universe,
            $one['packet']->source,
            $one['from'],
            $one['packet']->priority,
            $one['count'],
            self::SECONDS,
        ), $heard);
        $first = $heard[0] ?? null;
        if (null === $first) {
            $silence = new Message('no sender of universe {n} was heard', ['n' => $planned->universe->number]);

            return new Evidence(Outcome::Silent, $silence, $log);
        }
        [$device, $priority] = $planned->senders[0] ?? [null, null];
        $same = array_filter($heard, static fn (array $one): bool => $one['packet']->priority === $first['packet']->priority);
        $at = [
            'name' => $first['packet']->source,
            'address' => (string) $first['from'],
            'priority' => $first['packet']->priority,
            'planned' => $priority ?? '-',
            'names' => implode(', ', array_map(static fn (array $one): string => $one['packet']->source.' '.$one['from'], $same)),
        ];

        return match (true) {
            \count($same) > 1 => new Evidence(
                Outcome::OtherHeard,
                new Message('{names} send it at once with priority {priority}', $at),
                $log,
            ),
            !(new SenderLookup($this->access))->isAt($device, $first['from']) => new Evidence(
                Outcome::OtherHeard,
                new Message('{name} at {address} sends it with priority {priority}, and was not meant', $at),
                $log,
            ),
            $priority !== $first['packet']->priority => new Evidence(
                Outcome::OtherHeard,
                new Message('{name} sends it with priority {priority}, and {planned} was planned', $at),
                $log,
            ),
            default => new Evidence(Outcome::Heard, new Message('{name} at {address}, priority {priority}', $at), $log),
        };
    }

    private static function packet(string $bytes): ?SacnPacket
    {
        try {
            return SacnPacket::fromString($bytes);
        } catch (ParseError) {
            return null;
        }
    }
}
