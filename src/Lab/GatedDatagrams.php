<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\LoopbackDatagrams;

/** The UDP socket of a stand-in: what it sends goes out, and what strangers to the lab send comes in, only where the wire carries it. */
final class GatedDatagrams implements Datagrams
{
    private LoopbackDatagrams $socket;

    public function __construct(private readonly SimulatedNetwork $network, private readonly string $device, Ipv4 $site, int $port)
    {
        $this->socket = new LoopbackDatagrams($site, $port);
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        $site = $to->isLoopback() ? $this->network->siteOf($to) : $to;
        $name = null === $site ? null : $this->network->nameOf($site);
        // A loopback address that the job does not know is a guest on this machine, and is reached.
        if (null === $site || (null !== $name && $this->network->carries($this->device, $this->port(), $name, $port))) {
            $this->socket->send($to, $port, $bytes);
        }
    }

    public function receive(?float $seconds = null): ?array
    {
        while (null !== $received = $this->socket->receive($seconds)) {
            [$from, $port] = $received;
            $site = $this->network->siteOf($from);
            $name = null === $site ? null : $this->network->nameOf($site);
            // Other stand-ins were asked when they sent; an outpost is asked here.
            if (
                null === $name
                || null === $this->network->segmentOfOutpost($name)
                || $this->network->carries($name, $port, $this->device, $this->port())
            ) {
                return $received;
            }
        }

        return null;
    }

    public function port(): int
    {
        return $this->socket->port();
    }

    public function address(): Ipv4
    {
        return $this->socket->address();
    }

    public function close(): void
    {
        $this->socket->close();
    }
}
