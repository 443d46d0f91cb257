<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Fax\FaxPacket;
use Vorhut\Core\Wire\Fax\Indicator;
use Vorhut\Core\Wire\ParseError;

/**
 * One end of a fax over UDPTL (ITU-T T.38): repeats its indicator, and counts those received. No page is sent: the test is that the two
 * ends hear each other, a page must be checked by a person.
 */
final class FaxLine
{
    public const PACKET_SECONDS = 0.05;

    private int $sent = 0;
    private int $heard = 0;
    /** @var list<int> numbers of the last ones that came, so that one that came twice counts once */
    private array $numbers = [];
    private ?Indicator $says = null;
    private string $timer = '';

    public function __construct(private readonly Datagrams $socket, private readonly Indicator $is)
    {
        Background::run('fax', function (): void {
            while (null !== $received = $this->socket->receive()) {
                try {
                    $packet = FaxPacket::fromString($received[2]);
                } catch (ParseError) {
                    continue;
                }
                if (!\in_array($packet->number, $this->numbers, true)) {
                    $this->numbers = [...\array_slice($this->numbers, -15), $packet->number];
                    ++$this->heard;
                    $this->says = $packet->says;
                }
            }
        });
    }

    public function port(): int
    {
        return $this->socket->port();
    }

    public function start(Ipv4 $to, int $port): void
    {
        if ('' !== $this->timer) {
            EventLoop::cancel($this->timer);
        }
        $this->timer = EventLoop::repeat(self::PACKET_SECONDS, function () use ($to, $port): void {
            $before = array_fill(0, min($this->sent, FaxPacket::REDUNDANCY), $this->is);
            $this->socket->send($to, $port, (string) new FaxPacket($this->sent++, $this->is, $before));
        });
    }

    public function sentCount(): int
    {
        return $this->sent;
    }

    /** How many different ones came. */
    public function receivedCount(): int
    {
        return $this->heard;
    }

    /** What the other end says that it is; null where nothing came. */
    public function says(): ?Indicator
    {
        return $this->says;
    }

    public function stop(): void
    {
        if ('' !== $this->timer) {
            EventLoop::cancel($this->timer);
        }
        $this->timer = '';
        $this->socket->close();
    }
}
