<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Text\Message;

/** What the routers on the way may have wrong: an interface that does not fit its wire, a route that is missing or leads elsewhere. */
final readonly class RouterFixes
{
    public function __construct(private FixSearch $search)
    {
    }

    public function find(): void
    {
        $seen = [];
        foreach ($this->search->walk->hops as $hop) {
            if (str_starts_with($hop->ref, 'routerPorts/')) {
                $router = $this->search->model->plan->routerPorts[substr($hop->ref, 12)]->router ?? null;
                if (null !== $router) {
                    $seen[$router] = true;
                }
            }
        }
        if (null !== $this->search->walk->router) {
            $seen[$this->search->walk->router] = true;
        }
        foreach (array_keys($seen) as $router) {
            foreach ($this->search->model->ports((string) $router) as $port) {
                $this->interface($port);
            }
            $this->routes((string) $router);
        }
        // A port with an address outside its network is on no path any more.
        foreach ($this->ends() as $segment) {
            foreach ($this->search->model->plan->routerPortsOn($segment) as $port) {
                $this->interface($port);
            }
        }
    }

    /** @return list<string> the segments that it went from, to and between */
    private function ends(): array
    {
        $segments = [];
        foreach ($this->search->walk->hops as $hop) {
            $segments[$hop->segment] = true;
        }
        foreach ([$this->search->walk->fromSegment, $this->search->walk->toSegment, $this->search->walk->culprit?->segment] as $segment) {
            $segments[$segment ?? ''] = true;
        }
        $aim = $this->search->walk->destination;
        $home = $aim instanceof Ipv4 ? $this->search->model->plan->segmentAround($aim) : null;
        $segments[$home->key ?? ''] = true;

        return array_values(array_filter(
            array_map(strval(...), array_keys($segments)),
            fn (string $key): bool => null !== $this->search->model->segment($key),
        ));
    }

    /** An interface that does not fit its wire. */
    private function interface(RouterPort $port): void
    {
        $segment = $this->search->model->segment($port->segment);
        if (null === $segment || !$this->search->isNew('fit of '.$port->key)) {
            return;
        }
        $mask = $segment->network->mask;
        $isHome = $segment->network->contains($port->address) && !$segment->network->isEdge($port->address);
        if ($isHome && $port->mask->prefix !== $mask->prefix) {
            $this->search->add(FixRank::MASK, $this->search->portAt($port, $port->address, $mask));
        }
        $gateway = $segment->gateway;
        $isFree = null !== $gateway
            && $segment->network->contains($gateway)
            && [] === $this->search->model->holders($segment->key, $gateway);
        if (!$isHome && $isFree) {
            $this->search->add(FixRank::PORT, $this->search->portAt($port, $gateway, $mask));
        }
        if (!$isHome && null === $gateway) {
            foreach (Transpositions::of($port->address) as $address) {
                if ($segment->network->contains($address) && [] === $this->search->model->holders($segment->key, $address)) {
                    $this->search->add(FixRank::DIGITS, $this->search->portAt($port, $address, $mask));
                }
            }
        }
        // A next router that does not exist in this segment may be meant to be this interface.
        foreach ($this->search->model->plan->routes as $route) {
            if (
                $segment->network->contains($route->via)
                && $route->router !== $port->router
                && !$route->via->equals($port->address)
                && [] === $this->search->model->holders($segment->key, $route->via)
            ) {
                $this->search->add(FixRank::PORT, $this->search->portAt($port, $route->via, $mask));
                break;
            }
        }
    }

    /** The route of a router to the destination, corrected or added; with the fewest routers. */
    private function routes(string $router): void
    {
        $aims = array_filter(
            [$this->search->walk->destination, $this->search->walk->culprit?->address],
            static fn (?Address $one): bool => $one instanceof Ipv4,
        );
        foreach ($aims as $aim) {
            $goal = $this->portAround($aim, $router);
            $via = null === $goal ? null : Topology::nextHop($this->search->model, $router, $goal->router);
            if (null === $goal || null === $via || !$this->search->isNew("$router>$goal->network")) {
                continue;
            }
            $own = array_filter($this->search->model->plan->routes, static fn (StaticRoute $route): bool => $route->router === $router);
            $fits = false;
            foreach ($own as $route) {
                $covers = $route->destination->contains($aim);
                if ($covers && !$route->via->equals($via->address)) {
                    $this->search->add(FixRank::VIA, $this->routeChange($router, $goal, $via, Edit::put(
                        'routes',
                        $route->key,
                        'via',
                        (string) $route->via,
                        (string) $via->address,
                    ), $route->destination));
                }
                $fits = $fits || ($covers && $route->via->equals($via->address));
                if (!$covers && $route->via->equals($via->address) && $this->leadsNowhere($route->destination)) {
                    $this->search->add(FixRank::DESTINATION, $this->routeChange($router, $goal, $via, Edit::put(
                        'routes',
                        $route->key,
                        'destination',
                        (string) $route->destination,
                        (string) $goal->network,
                    )));
                }
            }
            if (!$fits && null === ($this->search->model->routingTable($router)->lookUp($aim)[0] ?? null)) {
                $this->search->add(FixRank::ROUTE, $this->routeChange($router, $goal, $via, Edit::add('routes', [
                    'key' => $this->search->model->plan->freeKey('routes', $router.'-'.$goal->segment),
                    'router' => $router,
                    'destination' => (string) $goal->network,
                    'via' => (string) $via->address,
                ])));
            }
        }
    }

    private function routeChange(string $router, RouterPort $goal, RouterPort $via, Edit $edit, ?Network $network = null): Change
    {
        return new Change(new Message('Tell {router} the route to {network} by {via}.', [
            'router' => $this->search->model->device($router)->tag ?? $router,
            'network' => (string) ($network ?? $goal->network),
            'via' => (string) $via->address,
        ]), [$edit]);
    }

    /** A destination that no segment has anything to do with. */
    private function leadsNowhere(Network $destination): bool
    {
        foreach ($this->search->model->plan->segments as $segment) {
            if ($segment->network->overlaps($destination)) {
                return false;
            }
        }

        return true;
    }

    private function portAround(Ipv4 $address, string $not): ?RouterPort
    {
        foreach ($this->search->model->plan->routerPorts as $port) {
            if ($port->network->contains($address)) {
                // On its own wire a router needs no route.
                return $port->router === $not ? null : $port;
            }
        }

        return null;
    }
}
