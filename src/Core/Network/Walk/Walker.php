<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/**
 * Walks a packet from one device to another and its answer back. Each host and router on the way decides by what *it* was told: see
 * SendingHost, Link, Router, Filter and TranslatingRouter.
 */
final class Walker
{
    /** The port an asker sends from: the first dynamic port (RFC 6335 §6). The filter sees answers going to it. */
    public const ASKING_PORT = 49152;

    /** More routers than any job has: a packet that meets more goes round in a circle. */
    private const ROUTERS_AT_MOST = 16;

    private readonly PacketContext $context;
    private readonly SendingHost $sendingHost;
    private readonly Router $router;
    private readonly ServiceCheck $services;

    private function __construct(private readonly NetworkModel $model)
    {
        $translation = new TranslatingRouter();
        $link = new Link($translation);
        $this->context = new PacketContext($model);
        $this->sendingHost = new SendingHost($link);
        $this->router = new Router($link, new Filter(), $translation);
        $this->services = new ServiceCheck();
    }

    /**
     * Asks at the target's own address, else at each other address that it has or that is known outside a translation.
     *
     * @param string    $from device key, or `outposts/SEGMENT`
     * @param string    $to   device key
     * @param Port|null $port null asks for the way only, not for a service
     */
    public static function between(NetworkModel $model, string $from, string $to, ?Port $port): Walk
    {
        return $model->cachedWalk("$from>$to:$port", static function () use ($model, $from, $to, $port): Walk {
            $walk = (new self($model))->thereAndBack($from, $to, $port);
            if ($walk->holds()) {
                return $walk;
            }
            foreach ($model->otherAddressesOf($to, $port) as [$address, $outsidePort]) {
                $other = (new self($model))->thereAndBack($from, $to, $port, $address, $outsidePort);
                if ($other->holds()) {
                    $other->facts->take($walk->facts);

                    return $other;
                }
                $walk->facts->take($other->facts);
            }

            return $walk;
        });
    }

    /** As between(), but only at one address of the target: its own, one outside a NAT, or one that it announces. */
    public static function at(NetworkModel $model, string $from, string $to, Port $port, Address $address): Walk
    {
        return $model->cachedWalk(
            "$from>$to:$port@$address",
            static fn (): Walk => (new self($model))->thereAndBack($from, $to, $port, $address),
        );
    }

    /** One way only: would this packet arrive? What the lab asks before it hands a datagram over. */
    public static function oneWay(NetworkModel $model, string $from, string $to, Port $port): Walk
    {
        $walker = new self($model);
        $walker->there($from, $to, $port);

        return $walker->toWalk($from, $to, $port);
    }

    /** A packet to an address outside the site: whether it leaves, and with which source address. */
    public static function leaving(NetworkModel $model, string $from, Ipv4 $address, Port $port): EgressResult
    {
        $walker = new self($model);
        $context = $walker->context;
        $hosts = $walker->hosts($from);
        $outside = self::outside($address, 'outside');
        $source = InterfaceChoice::between($hosts, [$outside]);
        $arrived = null === $source ? null : $walker->request($hosts, $source, $outside, $address, $port);
        $leaves = null !== $arrived || Fault::LeftTheSite === $context->lastHop()?->fault;
        $inside = $context->request?->source;
        $seenAs = ($arrived ?? $context->forwarded)?->source;

        return new EgressResult(
            $leaves,
            $context->toWalk($walker->label($from), (string) $address, $port),
            $inside instanceof Ipv4 ? $inside : null,
            $seenAs instanceof Ipv4 ? $seenAs : null,
        );
    }

    /** Walks a packet from outside the site to a device, one way, through the router and interface that the device's own traffic uses. */
    public static function entering(NetworkModel $model, Ipv4 $address, string $to, Port $port): Walk
    {
        $way = self::leaving($model, $to, $address, $port);
        $uplink = $way->walk->hops[array_key_last($way->walk->hops) ?? 0]->segment ?? '';
        $ports = array_filter($model->ports((string) $way->walk->router), static fn (RouterPort $one): bool => $one->segment === $uplink);
        $ingress = [] === $ports ? null : $model->host('routerPorts/'.reset($ports)->key);
        if (!$way->leaves || null === $ingress) {
            return $way->walk;
        }
        $aims = $model->otherAddressesOf($to, $port);
        if (null !== $way->inside && !$way->isTranslated()) {
            $aims[] = [$way->inside, $port];
        }
        $last = $way->walk;
        foreach ($aims as [$aim, $aimPort]) {
            $packet = new Packet($address, $aim, $port->transport, self::ASKING_PORT, ($aimPort ?? $port)->number);
            $last = (new self($model))->enter($packet, $ingress, $to, $port);
            if ($last->holds()) {
                return $last;
            }
        }

        return $last;
    }

    private function enter(Packet $packet, Host $ingress, string $to, Port $port): Walk
    {
        $address = $packet->source;
        $outside = self::outside($address, $ingress->segment);
        $target = InterfaceChoice::between($this->hosts($to), [$outside]);
        $this->context->pass($outside->spot, new Message('Arrives from {address} through {segment}.', [
            'address' => (string) $address,
            'segment' => $this->model->segmentName($ingress->segment),
        ]));
        if (null !== $target && UsableEnds::isAdmitted($this->context, $target)) {
            $this->context->sender = $outside;
            $arrived = $this->follow(Decision::goesTo($ingress, $packet), $target);
            if (null !== $arrived) {
                $this->services->isServed($this->context, $target, $address, $port);
            }
        }

        return $this->context->toWalk((string) $address, $this->label($to), $port);
    }

    /**
     * @param Address|null $at     the destination address instead of the target's own
     * @param Port|null    $atPort and the port
     */
    private function thereAndBack(string $from, string $to, ?Port $port, ?Address $at = null, ?Port $atPort = null): Walk
    {
        $request = $this->there($from, $to, $port, $at, $atPort);
        if (null !== $request && null !== $this->context->target && null !== $this->context->asker) {
            $this->answer($this->hosts($to), $this->context->target, $this->context->asker, $request);
        }

        return $this->toWalk($from, $to, $port);
    }

    /** @return Packet|null the request as it arrived; null where it did not, or is not served */
    private function there(string $from, string $to, ?Port $port, ?Address $at = null, ?Port $atPort = null): ?Packet
    {
        $fromHosts = $this->hosts($from);
        $toHosts = $this->hosts($to);
        $source = InterfaceChoice::between($fromHosts, $toHosts);
        $target = InterfaceChoice::between($toHosts, $fromHosts);
        if (null === $source || null === $target) {
            $this->stopWithoutInterface($from, null === $source ? $from : $to);

            return null;
        }
        $flow = $port ?? Port::tcp(self::ASKING_PORT);
        $asked = Port::of($flow->transport, ($atPort ?? $flow)->number);
        $arrived = $this->request($fromHosts, $source, $target, $at ?? $target->address, $asked);
        $this->context->arrived = $arrived;
        if (null === $arrived || null === $port) {
            return $arrived;
        }

        return $this->services->isServed($this->context, $target, $arrived->source, $port) ? $arrived : null;
    }

    private function stopWithoutInterface(string $from, string $end): void
    {
        $label = $this->label($end);
        $this->context->stop(new Spot($from, $label, ''), Fault::NotPlugged, new Message(
            IpVersion::Six === $this->model->version
                ? '{host} has no address of IPv6 on record.'
                : '{host} has no interface that could carry an address.',
            ['host' => $label],
        ));
    }

    /** @param list<Host> $own all interfaces of the sender */
    private function request(array $own, Host $source, Host $target, ?Address $destination, Port $port): ?Packet
    {
        return $this->oneDirection($own, $source, $target, $destination, static fn (
            Address $from,
            Address $to,
        ): Packet => new Packet($from, $to, $port->transport, self::ASKING_PORT, $port->number));
    }

    /**
     * The return path of a packet that arrived. The sender accepts a reply only from the address it sent to (RFC 9293 §3.10.7.3: any other
     * is not a segment of the connection).
     *
     * @param list<Host> $own all interfaces of the one who answers
     */
    private function answer(array $own, Host $target, Host $asker, Packet $arrived): void
    {
        $context = $this->context;
        $context->isAnswer = true;
        $answer = $arrived->answer();
        $back = $this->oneDirection($own, $target, $asker, $answer->destination, static fn (): Packet => $answer);
        $asked = $context->request;
        if (null === $back || null === $asked || $back->equals($asked->answer())) {
            return;
        }
        // It arrived, but with the address of another device.
        $context->forgetLastHop();
        $context->stop($asker->spot, Fault::AnswerFromElsewhere, new Message(
            '{peer} asked {asked}, and the answer comes from {source}: it is not taken for one.',
            ['peer' => $asker->label, 'asked' => (string) $asked->destination, 'source' => (string) $back->source],
        ));
    }

    /**
     * One direction, from the sender to where the packet arrives or stops.
     *
     * @param list<Host>                         $own    all interfaces of the sender; its own table picks one
     * @param \Closure(Address, Address): Packet $packet from the sender's own address and the destination address
     *
     * @return Packet|null as it arrived
     */
    private function oneDirection(array $own, Host $named, Host $target, ?Address $destination, \Closure $packet): ?Packet
    {
        $context = $this->context;
        $context->destination = $destination;
        $sender = null === $destination ? $named : InterfaceChoice::egress($own, $named, $destination, $context->facts);
        if (null === $sender) {
            $context->stop($named->spot, Fault::Ambiguous, new Message(
                '{host} has routes to {address} on two segments: it may use either one.',
                ['host' => $this->model->device($named->device)->tag ?? $named->label, 'address' => (string) $destination],
            ));

            return null;
        }
        $context->culprit = $sender;
        $context->sender = $sender;
        $sender->note($context->facts, 'address', 'segment');
        $target->note($context->facts, 'address', 'segment');
        if (!UsableEnds::areUsable($context, $sender, $target, $destination)) {
            return null;
        }
        \assert(null !== $sender->address && null !== $destination);
        $sent = $packet($sender->address, $destination);
        if (!$context->isAnswer) {
            $context->asker = $sender;
            $context->request = $sent;
            $context->target = $target;
        }

        return $this->follow($this->sendingHost->send($context, $sender, $target, $sent), $target);
    }

    /** From router to router until the packet arrives or stops. */
    private function follow(Decision $decision, Host $target): ?Packet
    {
        for ($routers = 0; null !== $decision->router && null !== $decision->packet; ++$routers) {
            if (self::ROUTERS_AT_MOST === $routers) {
                return $this->stopInCircle($decision->router, $decision->ingress, $target, $decision->packet);
            }
            $decision = $this->router->forward($this->context, $decision->router, $decision->ingress, $target, $decision->packet);
        }

        return $decision->packet;
    }

    private function stopInCircle(string $router, ?Host $ingress, Host $target, Packet $packet): null
    {
        $this->context->fromSegment = $ingress?->segment;
        $this->context->toSegment = $target->segment;
        $this->context->restOnAllFacts();
        $at = new Spot($ingress->ref ?? '', $this->label($router), $ingress->segment ?? '');
        $this->context->stop($at, Fault::RoutingLoop, new Message(
            'The packet for {address} goes round in a circle between routers until its time to live is spent.',
            ['address' => (string) $packet->destination],
        ));

        return null;
    }

    private function toWalk(string $from, string $to, ?Port $port): Walk
    {
        return $this->context->toWalk($this->label($from), $this->label($to), $port);
    }

    private static function outside(Address $address, string $segment): Host
    {
        return new Host('outside/'.$address, (string) $address, null, $segment, $address, null, null);
    }

    /** @return list<Host> */
    private function hosts(string $end): array
    {
        if (null === OutpostKey::segment($end)) {
            return $this->model->hostsOf($end);
        }
        $host = $this->model->host($end);

        return null === $host ? [] : [$host];
    }

    private function label(string $end): string|Message
    {
        $segment = OutpostKey::segment($end);
        if (null === $segment) {
            return $this->model->device($end)->tag ?? $end;
        }

        return new Message('Outpost on {segment}', ['segment' => $this->model->segmentName($segment)]);
    }
}
