<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\CancelledException;
use Amp\Socket\InternetAddress;
use Amp\Socket\ResourceUdpSocket;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Datagrams;

use function Amp\Socket\bindUdpSocket;

/** A plain UDP socket on an adapter of this machine. */
final class SiteDatagrams implements Datagrams
{
    private ResourceUdpSocket $socket;

    public function __construct(private readonly Ipv4 $from, int $port)
    {
        $this->socket = bindUdpSocket($from.':'.$port);
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        try {
            $this->socket->send(new InternetAddress((string) $to, max(0, min(65535, $port))), $bytes);
        } catch (\Throwable) {
            // A datagram that cannot be sent is a datagram that is lost.
        }
    }

    public function receive(?float $seconds = null): ?array
    {
        try {
            $received = $this->socket->receive(null === $seconds ? null : new TimeoutCancellation($seconds));
        } catch (CancelledException) {
            return null;
        }

        return null === $received ? null : [Ipv4::fromString($received[0]->getAddress()), $received[0]->getPort(), $received[1]];
    }

    public function port(): int
    {
        return $this->socket->getAddress()->getPort();
    }

    public function address(): Ipv4
    {
        return $this->from;
    }

    public function at(Ipv4 $site): Ipv4
    {
        return $site;
    }

    public function close(): void
    {
        $this->socket->close();
    }
}
