<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Outpost\Probe\SiteDatagrams;
use Vorhut\Socket\Datagrams;

/** A guest of the lab on this machine: plain UDP on 127.0.0.1, no site address. */
final class LoopbackGuest implements Datagrams
{
    private SiteDatagrams $socket;

    public function __construct()
    {
        $this->socket = new SiteDatagrams(Ipv4::fromString('127.0.0.1'), 0);
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        $this->socket->send($to, $port, $bytes);
    }

    public function receive(?float $seconds = null): ?array
    {
        return $this->socket->receive($seconds);
    }

    public function port(): int
    {
        return $this->socket->port();
    }

    public function address(): Ipv4
    {
        return $this->socket->address();
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
