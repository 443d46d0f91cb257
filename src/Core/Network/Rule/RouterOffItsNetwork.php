<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Text\Message;

/** A router and its segment disagree: its interface, the gateway of the segment, or the next router of a route. */
final class RouterOffItsNetwork implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $on = [];
        foreach ($context->plan->routerPorts as $port) {
            $on[$port->segment][] = $port;
            $segment = $context->plan->segments[$port->segment] ?? null;
            if (null !== $segment && !$port->network->equals($segment->network)) {
                yield $this->interface($context, $port, $segment);
            }
        }
        foreach ($context->plan->segments as $segment) {
            $ports = $on[$segment->key] ?? [];
            $held = array_filter($ports, static fn (RouterPort $port): bool => true === $segment->gateway?->equals($port->address));
            // Where the plan has no router in the segment, it is the administrator's router; and in a segment without devices, the far
            // end's.
            $isLivedOn = [] !== $ports && [] !== $context->plan->nicsOn($segment->key);
            if ($isLivedOn && [] === $held && null !== $segment->gateway && $segment->network->contains($segment->gateway)) {
                yield $this->segment($context, $segment, $ports);
            }
        }
        foreach ($context->plan->routes as $route) {
            yield from $this->route($context, $route);
        }
    }

    private function interface(RuleContext $context, RouterPort $port, Segment $segment): Finding
    {
        $tag = $context->plan->devices[$port->router]->tag ?? $port->router;
        $at = [
            'router' => $tag,
            'address' => $port->address.$port->mask,
            'segment' => $segment->name,
            'network' => (string) $segment->network,
        ];

        return new Finding(
            'router-off-its-network',
            Severity::Blocks,
            Stage::Networks,
            ['devices/'.$port->router, 'routerPorts/'.$port->key, 'segments/'.$segment->key],
            new Message('{router} is planned with {address} on {segment}, which is {network}.', $at),
            new Message('The router and the devices use different network ranges: some devices are reached, others are not.'),
            new Message('Compare with the administrator\'s values, and correct the interface.'),
            $segment->network->contains($port->address) ? new Change(
                new Message('Mask of {router} set to that of {segment}.', $at),
                [Edit::put('routerPorts', $port->key, 'mask', (string) $port->mask, (string) $segment->network->mask)],
            ) : null,
            button: new Message('Set the mask of {router} to that of {segment}.', $at),
        );
    }

    /** @param non-empty-list<RouterPort> $ports */
    private function segment(RuleContext $context, Segment $segment, array $ports): Finding
    {
        $at = [
            'segment' => $segment->name,
            'gateway' => (string) $segment->gateway,
            'router' => $context->plan->devices[$ports[0]->router]->tag ?? $ports[0]->router,
            'address' => (string) $ports[0]->address,
        ];

        return new Finding(
            'gateway-not-found',
            Severity::Blocks,
            Stage::Networks,
            ['segments/'.$segment->key, ...array_map(static fn (RouterPort $port): string => 'routerPorts/'.$port->key, $ports)],
            new Message('The gateway of {segment} is {gateway}, but no router has this address; {router} has {address}.', $at),
            new Message('The devices of this segment use a gateway that does not answer, so they reach no other subnet.'),
            new Message('Ask the administrator which of the two is right.'),
            1 === \count($ports) && $segment->network->contains($ports[0]->address) ? new Change(
                new Message('Gateway of {segment} set to {address}.', $at),
                [Edit::put('segments', $segment->key, 'gateway', (string) $segment->gateway, (string) $ports[0]->address)],
            ) : null,
            button: new Message('Set the gateway of {segment} to {address}.', $at),
        );
    }

    /** @return iterable<Finding> */
    private function route(RuleContext $context, StaticRoute $route): iterable
    {
        $model = NetworkAsSet::of($context);
        $reached = false;
        foreach ($model->ports($route->router) as $port) {
            if (!$port->network->contains($route->via)) {
                continue;
            }
            $reached = true;
            foreach ($model->holders($port->segment, $route->via) as $holder) {
                if ($holder->ref !== 'routerPorts/'.$port->key) {
                    return;
                }
            }
            // Out of the site: the far end is not part of this job.
            if (0 === $route->destination->mask->prefix) {
                return;
            }
        }
        $at = [
            'router' => $context->plan->devices[$route->router]->tag ?? $route->router,
            'destination' => (string) $route->destination,
            'via' => (string) $route->via,
        ];
        yield new Finding(
            'route-without-router',
            Severity::Blocks,
            Stage::Networks,
            ['devices/'.$route->router, 'routes/'.$route->key],
            $reached
                ? new Message('{router} routes {destination} to {via}, but no device has this address.', $at)
                : new Message('{router} routes {destination} to {via}, but has no interface in that network.', $at),
            new Message('{router} drops packets to {destination}.', $at),
            new Message('Enter the address of the next router in a segment of {router}, or remove the route.', $at),
        );
    }
}
