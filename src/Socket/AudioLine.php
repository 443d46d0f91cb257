<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtp\KeyPresses;
use Vorhut\Core\Wire\Rtp\ReceiverReport;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\RtpPacket;
use Vorhut\Core\Wire\Rtp\SourceDescription;
use Vorhut\Core\Wire\Rtp\TelephoneEvent;
use Vorhut\Core\Wire\Rtp\Tone;
use Vorhut\Core\Wire\Sdp\Session;

/**
 * One end of the sound of a call: sends a tone in 20 ms packets, counts what comes, and reports it to the other end (RFC 3550). Media on
 * an even port, reports on the next (§11).
 */
final class AudioLine
{
    public const PACKET_SECONDS = 0.02;
    /** How long a key is held, and how often its end is told (RFC 4733 §2.5.1.4), in packets. */
    private const HELD = 5;
    private const TOLD = 3;

    public readonly Reception $heard;
    public ?ReceiverReport $reported = null;
    private int $sent = 0;
    /** Packets not sent while on hold. */
    private int $silent = 0;
    private float $begun = 0.0;
    private string $timer = '';
    private string $reporter = '';
    /** @var list<string> keys that are still to be pressed */
    private array $keys = [];
    /** @var array{key: string, packet: int, at: int}|null the one that is held down, since which packet */
    private ?array $held = null;
    private readonly KeyPresses $presses;
    /** @var array{Ipv4, int}|null where its sound goes */
    private ?array $far = null;
    /** The other side of a joined call: received packets leave there. */
    private ?self $other = null;

    /** @param (\Closure(string): void)|null $pressed hears of keys that the other end presses */
    public function __construct(
        private readonly Datagrams $media,
        private readonly Datagrams $control,
        private readonly int $hertz,
        private readonly int $source,
        private readonly ?\Closure $pressed = null,
    ) {
        $this->heard = new Reception();
        $this->presses = new KeyPresses();
        Background::run('sound', function (): void {
            while (null !== $received = $this->media->receive()) {
                try {
                    $packet = RtpPacket::fromString($received[2]);
                } catch (ParseError) {
                    continue;
                }
                $this->heard->take($packet, TelephoneEvent::TYPE === $packet->type ? null : (int) (hrtime(true) / 125_000));
                $key = $this->presses->take($packet, TelephoneEvent::TYPE);
                if (null !== $key) {
                    $this->hears($key);
                }
                $this->other?->pass($this->other->media, 0, $received[2]);
            }
        });
        Background::run('sound', function (): void {
            while (null !== $received = $this->control->receive()) {
                try {
                    $this->reported = ReceiverReport::fromString($received[2]);
                } catch (ParseError) {
                    continue;
                }
                $this->other?->pass($this->other->control, 1, $received[2]);
            }
        });
    }

    /** Where sound goes that comes from the other side; nothing is sent of its own. */
    public function aim(Ipv4 $to, int $port): void
    {
        $this->far = [$to, $port];
    }

    /** Joins two sides: both stop their own sound, and packets received on one are sent on the other. */
    public function join(self $other): void
    {
        foreach ([[$this, $other], [$other, $this]] as [$one, $its]) {
            $one->quiet();
            $one->other = $its;
        }
    }

    private function pass(Datagrams $by, int $beside, string $bytes): void
    {
        if (null !== $this->far) {
            $by->send($this->far[0], $this->far[1] + $beside, $bytes);
        }
    }

    private function hears(string $key): void
    {
        if (null !== $this->pressed) {
            ($this->pressed)($key);
        }
    }

    private function quiet(): void
    {
        foreach ([$this->timer, $this->reporter] as $timer) {
            if ('' !== $timer) {
                EventLoop::cancel($timer);
            }
        }
        $this->timer = $this->reporter = '';
    }

    public function port(): int
    {
        return $this->media->port();
    }

    /** Whether so many packets came through each way: here by our own count, there by the other end's last report. */
    public function isTwoWay(int $packets): bool
    {
        return $this->heard->receivedCount() >= $packets && null !== $this->reported && $this->reported->highest + 1 >= $packets;
    }

    public function sentCount(): int
    {
        return $this->sent;
    }

    public function isStarted(): bool
    {
        return '' !== $this->timer;
    }

    /** Presses a key, as soon as those before it are done. */
    public function press(string $key): void
    {
        $this->keys[] = $key;
    }

    /** A key instead of sound while one is held down: all its packets carry the time at which it began, and how long it is by now. */
    private function packet(): RtpPacket
    {
        $time = ($this->sent + $this->silent) * Tone::SAMPLES;
        if (null === $this->held && [] !== $this->keys) {
            $this->held = ['key' => array_shift($this->keys), 'packet' => 0, 'at' => $time];
        }
        if (null === $this->held) {
            return new RtpPacket(0, $this->sent, $time, $this->source, Tone::packet($this->hertz, $this->sent), 0 === $this->sent);
        }
        $n = $this->held['packet']++;
        $event = new TelephoneEvent($this->held['key'], Tone::SAMPLES * (1 + min($n, self::HELD)), $n >= self::HELD);
        $packet = new RtpPacket(TelephoneEvent::TYPE, $this->sent, $this->held['at'], $this->source, (string) $event, 0 === $n);
        if ($n + 1 >= self::HELD + self::TOLD) {
            $this->held = null;
        }

        return $packet;
    }

    /** What the other end wants within a call: it is on hold and hears nothing, or hears again, perhaps elsewhere. */
    public function turn(Session $offer): void
    {
        $this->quiet();
        if (!$offer->isOnHold()) {
            $this->start($offer->address, $offer->port);
        }
    }

    public function start(Ipv4 $to, int $port): void
    {
        $this->far = [$to, $port];
        $now = (float) hrtime(true);
        // While it is silent its clock goes on, its count does not (RFC 3550 §5.1).
        $this->begun = 0.0 === $this->begun ? $now : $this->begun;
        $this->silent = (int) (($now - $this->begun) / (1e9 * self::PACKET_SECONDS)) - $this->sent;
        $this->timer = EventLoop::repeat(self::PACKET_SECONDS, function () use ($to, $port): void {
            // By the clock and not by the tick: a delayed loop sends all packets that are due, as a device does.
            $due = 1 + (int) ((hrtime(true) - $this->begun) / (1e9 * self::PACKET_SECONDS)) - $this->silent;
            for (; $this->sent < $due; ++$this->sent) {
                $this->media->send($to, $port, (string) $this->packet());
            }
        });
        $this->reporter = EventLoop::repeat(0.25, function () use ($to, $port): void {
            if ($this->heard->receivedCount() > 0) {
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
        $this->quiet();
        $this->other = null;
        $this->media->close();
        $this->control->close();
    }
}
