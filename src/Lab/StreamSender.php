<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Wire\Rtp\PlayMark;
use Vorhut\Core\Wire\Rtp\RtpPacket;

/**
 * Sends multicast streams at the set rate, scaled down, and each packet says by how much (PlayMark). The lab delivers each packet by
 * unicast to every listener that multicast would reach.
 */
final class StreamSender implements Behaviour
{
    private const EVERY = 0.05;
    /** Bytes of sound or pictures in a packet. */
    private const LARGEST = 1200;
    /** So many streams of one sender are played. */
    private const AT_MOST = 32;
    /** Dynamic (RFC 3551 §6). */
    private const TYPE = 96;

    private GatedDatagrams $socket;
    private string $timer;
    private int $sequence;
    /** When it said something the last time, in ns. */
    private int $said;
    /** @var array<string, float> stream → bytes that are owed */
    private array $owed = [];

    /**
     * @param \Closure(): Plan                    $plan
     * @param \Closure(GroupStream): list<Ipv4> $ears addresses of the present listeners
     */
    public function __construct(
        SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        private readonly \Closure $plan,
        private readonly \Closure $ears,
    ) {
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, 0);
        $this->sequence = random_int(0, 0xFFFF);
        $this->said = hrtime(true);
        $this->timer = EventLoop::unreference(EventLoop::repeat(self::EVERY, $this->say(...)));
    }

    public function end(): void
    {
        EventLoop::cancel($this->timer);
        $this->socket->close();
    }

    private function say(): void
    {
        $now = hrtime(true);
        $seconds = ($now - $this->said) / 1e9;
        $this->said = $now;
        ++$this->sequence;
        $n = 0;
        $plan = ($this->plan)();
        foreach ($plan->streamsOf($this->standIn->state->device) as $stream) {
            $sent = GroupStream::of($plan, $stream);
            $kbit = null === $sent ? null : $this->rate($sent);
            if (null === $sent || null === $kbit || ++$n > self::AT_MOST) {
                continue;
            }
            // The plan's rate determines the scale; the actual rate follows the setting of the stand-in.
            $scale = max(1, (int) ceil(($sent->payload ?? 1.0) * 1000 / 8 * self::EVERY / (self::LARGEST / 2)));
            $owed = min(self::LARGEST * 4, ($this->owed[$stream->key] ?? 0.0) + $kbit * 1000 / 8 * $seconds / $scale);
            $bytes = min(self::LARGEST, (int) $owed);
            $this->owed[$stream->key] = $owed - $bytes;
            $packet = (string) new RtpPacket(
                self::TYPE,
                $this->sequence,
                (int) ($now / 1e9 * $sent->clock) & 0xFFFFFFFF,
                crc32($this->standIn->state->device.' '.$stream->key),
                random_bytes(max(1, $bytes)),
                false,
                (new PlayMark($scale, $sent->group->group->address))->extension(),
            );
            foreach (($this->ears)($sent) as $ear) {
                $this->socket->send($ear, $sent->port, $packet);
            }
        }
    }

    /** kbit/s of what its packets carry: as it is set, where the stream leaves it to the sender. */
    private function rate(GroupStream $sent): ?float
    {
        $state = $this->standIn->state;
        $set = $state->get('bitRate');
        $kbit = null === $sent->stream->kbit && '' !== $set && 48_000 !== $sent->clock
            ? (float) $set + (float) $state->get('audioRate')
            : $sent->payload;
        $isWrong = $state->isFaulty(InjectedFault::WrongRate);

        return null === $kbit ? null : $kbit * ($isWrong ? 0.5 : 1.0);
    }
}
