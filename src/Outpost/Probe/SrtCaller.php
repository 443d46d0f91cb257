<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Srt\Handshake;
use Vorhut\Socket\Datagrams;

/**
 * Tests whether an SRT listener would accept a stream (draft-sharabayko-srt-01 §4.3.1), and disconnects. It sends neither a passphrase nor
 * anything derived from one: a listener with a passphrase says so to callers without.
 */
final readonly class SrtCaller
{
    private const SECONDS = 1.0;
    private const TRIES = 3;
    /** The default if not planned, in ms. */
    private const LATENCY = 120;
    private const REASONS = [
        1003 => 'it has no room for another',
        1005 => 'it has no room for another',
        1007 => 'it is about to end',
        1008 => 'it speaks only an older version',
        1010 => 'the passphrase is another',
        1012 => 'it takes files and no streams',
        1014 => 'it wants a filter of packets that was not offered',
    ];

    public function __construct(private NetworkAccess $access)
    {
    }

    /**
     * @param bool     $sealed  whether it is to ask for a passphrase
     * @param int|null $latency ms
     *
     * @throws NoAnswer where nothing can be sent
     */
    public function ask(VantagePoint $place, Ipv4 $taker, int $port, bool $sealed, ?int $latency): Evidence
    {
        $to = $this->access->seenAs($taker);
        $socket = $this->access->datagrams($place->address);
        $id = random_int(1, 0x3FFF_FFFF);
        $first = random_int(0, 0x3FFF_FFFF);
        $log = [];
        try {
            $listener = $this->exchange($socket, $to, $port, Handshake::induction($id, $place->address, $first), $log);
            if (null === $listener) {
                return new Evidence(Outcome::Silent, new Message('no SRT answer from there'), $log);
            }
            if (!$listener->isListener()) {
                return new Evidence(Outcome::Rejected, new Message('the device that answers is not an SRT listener'), $log);
            }
            $answer = $this->exchange($socket, $to, $port, $listener->conclusion($id, $place->address, $first, [
                Handshake::HSREQ => Handshake::terms($latency ?? self::LATENCY),
            ]), $log);
            if (null !== $answer && $answer->isConclusion()) {
                $socket->send($to, $port, Handshake::shutdown($answer->socket));
                $log[] = '> shutdown';
            }
        } finally {
            $socket->close();
        }

        return self::judge($answer, $sealed, $log);
    }

    /** @param list<string> $log */
    private static function judge(?Handshake $answer, bool $sealed, array $log): Evidence
    {
        if (null === $answer) {
            return new Evidence(Outcome::BrokenOff, new Message('it listens, and says no more when a stream is offered'), $log);
        }
        $reason = $answer->reason();
        if (Handshake::UNSECURE === $reason) {
            return $sealed
                ? new Evidence(Outcome::Takes, new Message('it asks for a passphrase; which one was not asked'), $log)
                : new Evidence(Outcome::TakesOtherwise, new Message('it asks for a passphrase, and none was planned'), $log);
        }
        if (!$answer->isConclusion()) {
            $why = self::REASONS[$reason ?? 0] ?? null;

            return new Evidence(
                Outcome::Rejected,
                null === $why
                    ? new Message('it refuses the stream with reason {n}', ['n' => $reason ?? $answer->type])
                    : new Message('it refuses the stream: {why}', ['why' => new Message($why)]),
                $log,
            );
        }
        $at = ['ms' => Handshake::latency($answer->extensions[Handshake::HSRSP] ?? '') ?? 0];

        return $sealed
            ? new Evidence(Outcome::TakesOtherwise, new Message('it takes streams without a passphrase, and one was planned'), $log)
            : new Evidence(Outcome::Takes, new Message('it would take the stream, with a latency of {ms} ms', $at), $log);
    }

    /**
     * @param list<string> $log
     *
     * @param-out list<string> $log
     */
    private function exchange(Datagrams $socket, Ipv4 $to, int $port, Handshake $said, array &$log): ?Handshake
    {
        for ($try = 1; $try <= self::TRIES; ++$try) {
            $log[] = $said->isInduction() ? '> induction' : '> conclusion';
            $socket->send($to, $port, (string) $said);
            for ($until = microtime(true) + self::SECONDS; ($left = $until - microtime(true)) > 0;) {
                $received = $socket->receive($left);
                $answer = null === $received || !$received[0]->equals($to) ? null : Handshake::tryFromString($received[2]);
                if (null === $answer || $answer->to !== $said->socket || ($answer->isInduction() && !$said->isInduction())) {
                    continue;
                }
                $log[] = match (true) {
                    $answer->isInduction() => \sprintf('< induction, version %d', $answer->version),
                    $answer->isConclusion() => '< conclusion',
                    default => \sprintf('< refused, %d', $answer->type),
                };

                return $answer;
            }
        }

        return null;
    }
}
