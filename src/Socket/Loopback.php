<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Vorhut\Core\Net\Ipv4;

/**
 * Where the lab puts an address of the site: the same last three octets in 127.0.0.0/8 (10.64.20.31 ↔ 127.64.20.31). Ports below 1024
 * move up by 20000, so that the lab needs no root.
 */
final class Loopback
{
    /** Asked of its own place, this port says whether the lab plays it: that of the discard service (RFC 863), which nobody has. */
    public const PRESENCE = 9;
    private const MOVED = 20000;

    /** Added to the second octet, so that two labs on one machine (a demo, a test) do not meet. */
    private static int $shift = 0;

    public static function shiftBy(int $shift): void
    {
        self::$shift = $shift;
    }

    public static function of(Ipv4 $site): Ipv4
    {
        return Ipv4::fromNumber(0x7F000000 | ($site->number + (self::$shift << 16)) & 0xFFFFFF);
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
