<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Plan\StaticRoute6;
use Vorhut\Core\Text\Message;

/**
 * A router translates incoming packets, accepts those for itself, looks up the route, filters, translates outgoing packets and delivers
 * them on the link of the destination or to the next router (RFC 1812 §5.2.1).
 *
 * Assumptions, the strict ones: no directed broadcast is forwarded, and no reverse path is checked.
 */
final class Router
{
    public function __construct(
        private readonly Link $link,
        private readonly Filter $filter,
        private readonly TranslatingRouter $translation,
    ) {
    }

    /** @param Host|null $ingress the interface on which the packet arrived; null for packets from the router itself */
    public function forward(PacketContext $context, string $router, ?Host $ingress, Host $target, Packet $came): Decision
    {
        $context->router = $router;
        $label = $context->model->device($router)->tag ?? $router;
        $packet = $came;
        if (null !== $ingress) {
            $packet = $this->translation->inward($context, new Spot($ingress->ref, $label, $ingress->segment), $ingress, $came);
        }
        $context->destination = $packet->destination;
        $table = $context->model->routingTable($router);
        $own = $table->ownPort($packet->destination);
        if (null !== $own) {
            return $this->keep($context, $own, $label, $target, $packet);
        }
        $line = $table->lookUp($packet->destination);
        if (null === $line) {
            $context->fromSegment = $ingress?->segment;
            $context->toSegment = $target->segment;
            $at = new Spot($ingress->ref ?? '', $label, $ingress->segment ?? (string) $context->sender?->segment);

            return $context->stop($at, Fault::NoRoute, new Message(
                '{router} knows no route to {address}.',
                ['router' => $label, 'address' => (string) $packet->destination],
            ));
        }
        [$egress, $route] = $line;
        $this->noteRoute($context, $egress, $route, $packet);
        if (null !== $ingress) {
            $packet = $this->sendThrough($context, $ingress, $egress, $label, $came, $packet);
        }
        if (null === $packet) {
            return Decision::stops();
        }
        $context->forwarded = $packet;

        return null === $route
            ? $this->deliver($context, $egress, $label, $target, $packet)
            : $this->giveToNextRouter($context, $ingress, $egress, $route, $label, $target, $packet);
    }

    /** The router holds the destination itself. */
    private function keep(PacketContext $context, RouterPort $port, string $label, Host $target, Packet $packet): Decision
    {
        $version = $context->model->version;
        $context->facts->note(
            'routerPorts/'.$port->key.':address'.(IpVersion::Six === $version ? '6' : ''),
            (string) $port->addressOf($version),
        );
        $at = Spot::port($port, $label);
        $values = ['router' => $label, 'address' => (string) $packet->destination, 'peer' => $target->label];
        if ($target->device === $port->router) {
            $context->pass($at, new Message('{router} holds {address} itself: it arrives.', $values));

            return Decision::arrives($packet);
        }
        $context->culprit = $target;
        $context->toSegment = $port->segment;

        return $context->stop($at, Fault::AnotherHolds, new Message(
            '{router} holds {address} itself: {peer} never sees the packet.',
            $values,
        ));
    }

    private function noteRoute(PacketContext $context, RouterPort $egress, StaticRoute|StaticRoute6|null $route, Packet $packet): void
    {
        $context->facts->note(
            'routes/'.$egress->router.':to '.$packet->destination,
            null === $route ? (string) $egress->networkOf($context->model->version) : $route->destination.' via '.$route->via,
        );
    }

    /** @return Packet|null as it leaves; null where the filter stops it */
    private function sendThrough(
        PacketContext $context,
        Host $ingress,
        RouterPort $egress,
        string $label,
        Packet $came,
        Packet $packet,
    ): ?Packet {
        $device = $context->model->device($egress->router);
        if (null !== $device && !$this->filter->passes($context, $device, $ingress, $egress, $packet)) {
            return null;
        }
        $context->toSegment = $egress->segment;
        $context->noteForwarded($egress->router);

        return $this->translation->outward($context, Spot::port($egress, $label), $egress, $came, $packet);
    }

    /** The destination lies on a network of the router's own. */
    private function deliver(PacketContext $context, RouterPort $egress, string $label, Host $target, Packet $packet): Decision
    {
        $context->culprit = $target;
        $at = Spot::port($egress, $label);
        $values = [
            'router' => $label,
            'address' => (string) $packet->destination,
            'peer' => $target->label,
            'segment' => $context->segmentName($egress->segment),
        ];
        $holders = $this->link->holders($context, $egress->segment, $packet->destination);
        $network = $egress->networkOf($context->model->version);
        if (true === $network?->isEdge($packet->destination)) {
            return $context->stop($at, Fault::UnusableAddress, new Message(
                '{address} is the edge of {network}: {router} does not forward to it.',
                $values + ['network' => (string) $network],
            ));
        }
        if ([] === $holders) {
            return $this->deliverToProxy($context, $egress, $label, $target, $packet, $values);
        }
        if (1 === \count($holders) && $holders[0]->device === $egress->router && $target->device !== $egress->router) {
            // An outside address of the router: it translates packets that arrive on that interface, and this one arrived on another.
            return $context->stop($at, Fault::AnotherHolds, new Message(
                '{router} holds {address} itself: {peer} never sees the packet.',
                $values,
            ));
        }

        return $this->link->deliver($context, $at, $holders, $target, $packet, new Message(
            '{router} delivers it on {segment}.',
            $values,
        ));
    }

    /** @param array<string, string|Message> $values */
    private function deliverToProxy(
        PacketContext $context,
        RouterPort $egress,
        string $label,
        Host $target,
        Packet $packet,
        array $values,
    ): Decision {
        $at = Spot::port($egress, $label);
        $proxy = $this->link->proxy($context, $egress->segment, $packet->destination, $egress->router);
        if (null !== $proxy) {
            $context->pass($at, new Message(
                '{router} asks for {address} on {segment}: {other} answers in its place.',
                $values + ['other' => $proxy->label],
            ));

            return Decision::goesTo($proxy, $packet);
        }
        $isThere = $target->segment === $egress->segment;

        return $context->stop($at, Fault::NoHolder, $isThere
            ? new Message('{router} looks for {address} on {segment}, but no device there has it.', $values)
            : new Message(
                '{router} brings it to {segment}, where {address} belongs, but {peer} is plugged into {there}.',
                $values + ['there' => $context->segmentName($target->segment)],
            ));
    }

    private function giveToNextRouter(
        PacketContext $context,
        ?Host $ingress,
        RouterPort $egress,
        StaticRoute|StaticRoute6 $route,
        string $label,
        Host $target,
        Packet $packet,
    ): Decision {
        $values = ['router' => $label, 'address' => (string) $packet->destination, 'via' => (string) $route->via];
        $holders = $this->link->holders($context, $egress->segment, $route->via);
        $next = array_values(array_filter($holders, static fn (Host $host): bool => $host->forwards))[0] ?? null;
        if ([] === $holders) {
            $next = $this->link->proxy($context, $egress->segment, $route->via, $egress->router);
        }
        if (null !== $next) {
            $context->pass(Spot::port($egress, $label), new Message(
                '{router} sends it on to {next} ({via}).',
                $values + ['next' => $next->label],
            ));

            return Decision::goesTo($next, $packet);
        }
        $context->fromSegment = $ingress->segment ?? $context->sender?->segment;
        $context->toSegment = $target->segment;
        $at = new Spot($ingress->ref ?? '', $label, $egress->segment);
        // The default route leads to a provider, which is outside the job.
        if (0 === $route->destination->prefix() && [] === $holders) {
            return $context->stop($at, Fault::LeftTheSite, new Message(
                '{router} knows no way to {address} and hands it to {via}, out of the site.',
                $values,
            ));
        }

        return $context->stop($at, Fault::NextHopMissing, new Message(
            '{router} sends {address} on to {via}, where no router answers.',
            $values,
        ));
    }
}
