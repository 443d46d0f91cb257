<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\StaticRoute;

/**
 * What one router knows, by length of prefix, so that a look costs the lengths that occur and not the networks (RFC 1812 §5.2.4.3). A
 * connected network wins over a static route of equal length, an earlier line over a later one.
 */
final class RoutingTable
{
    /** @var array<int, array<int, array{RouterPort, StaticRoute|null}>> prefix length → network → what it says, the longest first */
    private array $lines = [];
    /** @var array<int, RouterPort> */
    private array $own = [];

    /**
     * @param list<RouterPort>  $ports  of this router
     * @param list<StaticRoute> $routes of this router
     */
    public function __construct(array $ports, array $routes)
    {
        foreach ($ports as $port) {
            $this->own[$port->address->number] ??= $port;
            $this->lines[$port->mask->prefix][$port->network->address->number] ??= [$port, null];
        }
        foreach ($routes as $route) {
            foreach ($ports as $port) {
                if ($port->network->contains($route->via)) {
                    $this->lines[$route->destination->mask->prefix][$route->destination->address->number] ??= [$port, $route];
                    break;
                }
            }
        }
        krsort($this->lines);
    }

    /** @return array{RouterPort, StaticRoute|null}|null the way out, and the route where it is not a connected network */
    public function lookUp(Ipv4 $destination): ?array
    {
        foreach ($this->lines as $prefix => $networks) {
            $line = $networks[$destination->number & (0xFFFFFFFF << (32 - $prefix))] ?? null;
            if (null !== $line) {
                return $line;
            }
        }

        return null;
    }

    /** The interface that holds an address itself. */
    public function ownPort(Ipv4 $address): ?RouterPort
    {
        return $this->own[$address->number] ?? null;
    }
}
