<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Vorhut\Core\Net\Ipv4;

/**
 * The part of 127.0.0.0/8 that a job has in the lab. A site address keeps its last three octets (10.64.20.31 ↔ 127.64.20.31), and the
 * second octet is moved by the shift, so that two jobs on the same subnet do not meet. Ports below 1024 move up by 20000, so that the
 * lab needs no root.
 */
final readonly class Loopback
{
    /**
     * A connection to this port of its own place tells whether the lab runs it: the port of the discard service (RFC 863), which devices do
     * not use.
     */
    public const PRESENCE = 9;
    /** The name at which the lab's gateway tells which devices are still starting, by the port above. */
    public const STATE = 'lab';
    /** Under a name that begins with this, a laptop on the bench is set for a network. */
    public const BENCH = 'bench';
    private const MOVED = 20000;

    /** @param int $shift added to the second octet, modulo 256 */
    public function __construct(private int $shift = 0)
    {
    }

    public function of(Ipv4 $site): Ipv4
    {
        return Ipv4::fromNumber(0x7F000000 | ($site->number + ($this->shift << 16)) & 0xFFFFFF);
    }

    public static function port(int $port): int
    {
        // mDNS has a responder of its own on many machines.
        return $port < 1024 || 5353 === $port ? $port + self::MOVED : $port;
    }

    public static function sitePort(int $port): int
    {
        return $port > self::MOVED && ($port < self::MOVED + 1024 || self::MOVED + 5353 === $port) ? $port - self::MOVED : $port;
    }
}
