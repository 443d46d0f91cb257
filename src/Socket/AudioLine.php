<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Rtp\Packet;
use Vorhut\Core\Wire\Rtp\ReceiverReport;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\SourceDescription;
use Vorhut\Core\Wire\Rtp\Tone;
use Vorhut\Core\Wire\Unreadable;

/**
 * One end of the sound of a call: sends a tone in 20 ms packets, counts what comes, and reports it to the other end (RFC 3550). Media on
 * an even port, reports on the next (§11).
 */
final class AudioLine
{
    public const PACKET_SECONDS = 0.02;

    public readonly Reception $heard;
    public ?ReceiverReport $reported = null;
    private int $sent = 0;
    private string $timer = '';
    private string $reporter = '';

    public function __construct(
        private readonly Datagrams $media,
        private readonly Datagrams $control,
        private readonly int $hertz,
        private readonly int $source,
    ) {
        $this->heard = new Reception();
        Background::run('sound', function (): void {
            while (null !== $received = $this->media->receive()) {
                try {
                    $this->heard->take(Packet::fromString($received[2]), (int) (hrtime(true) / 125_000));
                } catch (Unreadable) {
                    continue;
                }
            }
        });
        Background::run('sound', function (): void {
            while (null !== $received = $this->control->receive()) {
                try {
                    $this->reported = ReceiverReport::fromString($received[2]);
                } catch (Unreadable) {
                    continue;
                }
            }
        });
    }

    public function port(): int
    {
        return $this->media->port();
    }

    /** Whether so many packets came through each way: here by our own count, there by the other end's last report. */
    public function isTwoWay(int $packets): bool
    {
        return $this->heard->received() >= $packets && null !== $this->reported && $this->reported->highest + 1 >= $packets;
    }

    public function sent(): int
    {
        return $this->sent;
    }

    public function isStarted(): bool
    {
        return '' !== $this->timer;
    }

    public function start(Ipv4 $to, int $port): void
    {
        $begun = hrtime(true);
        $this->timer = EventLoop::repeat(self::PACKET_SECONDS, function () use ($to, $port, $begun): void {
            // By the clock and not by the tick: a loop that was held up sends what is due, as a device does.
            for ($due = 1 + (int) ((hrtime(true) - $begun) / (1e9 * self::PACKET_SECONDS)); $this->sent < $due; ++$this->sent) {
                $this->media->send(
                    $to,
                    $port,
                    (string) new Packet(
                        0,
                        $this->sent,
                        $this->sent * Tone::SAMPLES,
                        $this->source,
                        Tone::packet($this->hertz, $this->sent),
                        0 === $this->sent,
                    ),
                );
            }
        });
        $this->reporter = EventLoop::repeat(0.25, function () use ($to, $port): void {
            if ($this->heard->received() > 0) {
                $this->control->send(
                    $to,
                    $port + 1,
                    ReceiverReport::of($this->heard, $this->source).new SourceDescription(
                        $this->source,
                        'sound@'.$this->control->address(),
                    ),
                );
            }
        });
    }

    public function stop(): void
    {
        foreach ([$this->timer, $this->reporter] as $timer) {
            '' === $timer || EventLoop::cancel($timer);
        }
        $this->timer = $this->reporter = '';
        $this->media->close();
        $this->control->close();
    }
}
