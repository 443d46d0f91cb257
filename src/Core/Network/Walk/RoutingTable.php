<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Plan\StaticRoute6;

/**
 * What one router knows, by length of prefix, so that a look costs the lengths that occur and not the networks (RFC 1812 §5.2.4.3). A
 * connected network wins over a static route of equal length, an earlier line over a later one.
 */
final class RoutingTable
{
    /** @var array<int, array<array-key, array{RouterPort, StaticRoute|StaticRoute6|null}>> prefix length → network → what it says */
    private array $lines = [];
    /** @var array<array-key, RouterPort> */
    private array $own = [];
    /** @var array<array-key, RouterPort> */
    private array $anycast = [];

    /**
     * @param list<RouterPort>               $ports  of this router
     * @param list<StaticRoute|StaticRoute6> $routes of this router, of the version
     */
    public function __construct(array $ports, array $routes, private readonly IpVersion $version = IpVersion::Four)
    {
        foreach ($ports as $port) {
            $address = $port->addressOf($version);
            if (null === $address) {
                continue;
            }
            $this->own[$address->key()] ??= $port;
            $network = $port->networkOf($version);
            if ($network instanceof Network6 && $network->isOfItsRouters($network->address)) {
                $this->anycast[$network->address->key()] ??= $port;
            }
            if (null !== $network) {
                $this->lines[$network->prefix()][$this->around($address, $network->prefix())] ??= [$port, null];
            }
        }
        foreach ($routes as $route) {
            $port = self::towards($route, $ports, $version);
            $prefix = $route->destination->prefix();
            if (null !== $port) {
                $this->lines[$prefix][$this->around($route->destination->address, $prefix)] ??= [$port, $route];
            }
        }
        krsort($this->lines);
    }

    /**
     * The interface that a route leaves by: the one whose network its next router is on. (An address that holds on its own wire only would
     * not say which wire: a route by one is refused where it is typed.)
     *
     * @param list<RouterPort> $ports
     */
    private static function towards(StaticRoute|StaticRoute6 $route, array $ports, IpVersion $version): ?RouterPort
    {
        foreach ($ports as $port) {
            if (true === $port->networkOf($version)?->contains($route->via)) {
                return $port;
            }
        }

        return null;
    }

    private function around(Address $address, int $prefix): int|string
    {
        return IpVersion::Six === $this->version ? Network6::keyAround($address, $prefix) : Network::keyAround($address, $prefix);
    }

    /** @return array{RouterPort, StaticRoute|StaticRoute6|null}|null the way out, and the route where it is not a connected network */
    public function lookUp(Address $destination): ?array
    {
        foreach ($this->lines as $prefix => $networks) {
            $line = $networks[$this->around($destination, $prefix)] ?? null;
            if (null !== $line) {
                return $line;
            }
        }

        return null;
    }

    /** The interface that holds an address itself: its own, or the one that every router of an IPv6 network holds (RFC 4291 §2.6.1). */
    public function ownPort(Address $address): ?RouterPort
    {
        return $this->own[$address->key()] ?? $this->anycast[$address->key()] ?? null;
    }
}
