<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Dhcp;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;

/**
 * DHCP option values as bytes, for administrators who paste hex.
 *
 * Nothing calls it yet but its tests: the sheet for the network's administrator will.
 */
final class Options
{
    /**
     * Option 121, classless static routes (RFC 3442): prefix length, as many octets of the destination as it needs, the router.
     *
     * @param list<array{Network, Ipv4}> $routes
     */
    public static function classlessRoutes(array $routes): string
    {
        $bytes = '';
        foreach ($routes as [$destination, $via]) {
            $prefix = $destination->mask->prefix;
            $bytes .= \chr($prefix).substr(pack('N', $destination->address->number), 0, intdiv($prefix + 7, 8)).pack('N', $via->number);
        }

        return $bytes;
    }

    /**
     * Option 120, SIP servers as addresses (RFC 3361 §3.2).
     *
     * @param list<Ipv4> $servers
     */
    public static function sipServers(array $servers): string
    {
        return "\x01".implode('', array_map(static fn (Ipv4 $server): string => pack('N', $server->number), $servers));
    }

    public static function hex(string $bytes): string
    {
        return strtoupper(implode(' ', str_split(bin2hex($bytes), 2)));
    }
}
