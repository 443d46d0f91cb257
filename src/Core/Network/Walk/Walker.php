<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/**
 * Walks a packet from A to B and its answer back, each host and router deciding by what *it* was told.
 *
 * Assumptions, the strict ones: a router answers ARP only for its interface's own address, forwards no directed broadcast and does no
 * reverse-path check; a host takes packets from any source and answers ARP to any asker on its wire; redirects are ignored.
 */
final class Walker
{
    /** The port an asker sends from: the first dynamic port (RFC 6335 §6). The filter sees answers going to it. */
    public const ASKING_PORT = 49152;

    /** More routers than any job has: a packet that meets more goes round in a circle. */
    private const ROUTERS_AT_MOST = 16;

    /** @var list<Hop> */
    private array $hops = [];
    private Facts $facts;
    private ?Host $culprit = null;
    private ?Address $destination = null;
    private ?string $router = null;
    private ?string $fromSegment = null;
    private ?string $toSegment = null;
    /** @var array<string, true> routers that saw the request */
    private array $routersOut = [];
    /** @var array<string, FilterRule> those that decided on it */
    private array $rules = [];
    /** @var array<string, Translator> by router */
    private array $translators = [];
    /** By which interface the question left. */
    private ?Host $left = null;
    private int $handed = 0;
    /** The question as it left. */
    private ?Packet $asked = null;
    /** The packet as the last router hands it on. */
    private ?Packet $carried = null;

    /**
     * @param Address|null $aim     what is asked for instead of the target's own address
     * @param Port|null $aimPort and by which port
     */
    private function __construct(
        private readonly NetworkModel $model,
        private readonly ?Address $aim = null,
        private readonly ?Port $aimPort = null,
    ) {
        $this->facts = new Facts();
    }

    /**
     * @param string    $from device key, or `outposts/SEGMENT` for a place to look from
     * @param string    $to   device key
     * @param Port|null $port null asks for the way only, not for a service
     */
    public static function between(NetworkModel $model, string $from, string $to, ?Port $port): Walk
    {
        return $model->cachedWalk("$from>$to:$port", static function () use ($model, $from, $to, $port): Walk {
            $walk = (new self($model))->walk($from, $to, $port, true);
            if (!$walk->holds()) {
                foreach ($model->otherAddressesOf($to, $port) as [$address, $outsidePort]) {
                    // Who has several addresses is asked at another; whoever is behind a translation, at the one that is known outside.
                    $other = (new self($model, $address, $outsidePort))->walk($from, $to, $port, true);
                    if ($other->holds()) {
                        $other->facts->take($walk->facts);

                        return $other;
                    }
                    $walk->facts->take($other->facts);
                }
            }

            return $walk;
        });
    }

    /** As between(), but only at one address of the target: its own, one outside a NAT, or one that it announces. */
    public static function at(NetworkModel $model, string $from, string $to, Port $port, Address $address): Walk
    {
        return $model->cachedWalk(
            "$from>$to:$port@$address",
            static fn (): Walk => (new self($model, $address))->walk($from, $to, $port, true),
        );
    }

    /** One way only: would this packet arrive? What the lab asks before it hands a datagram over. */
    public static function oneWay(NetworkModel $model, string $from, string $to, Port $port, int $sourcePort): Walk
    {
        return (new self($model))->walk($from, $to, $port, false);
    }

    /** What is sent to somebody outside the site, who is no part of the job: whether it leaves, and as whose. */
    public static function leaving(NetworkModel $model, string $from, Ipv4 $address, Port $port): EgressResult
    {
        $walker = new self($model);
        $hosts = $walker->hosts($from);
        $outside = new Host('outside/'.$address, (string) $address, null, 'outside', $address, null, null);
        $source = $walker->choose($hosts, [$outside]);
        $arrived = null === $source ? null : $walker->oneDirection(false, $hosts, $source, $outside, $address, static fn (
            Address $own,
            Address $aim,
        ): Packet => new Packet($own, $aim, $port->transport, self::ASKING_PORT, $port->number));
        $broken = $walker->hops[array_key_last($walker->hops) ?? 0] ?? null;
        $walk = $walker->finish($walker->label($from), (string) $address, $port);

        $inside = $walker->asked?->source;
        $seenAs = ($arrived ?? $walker->carried)?->source;

        return new EgressResult(
            null !== $arrived || Fault::LeftTheSite === $broken?->fault,
            $walk,
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
        $last = null;
        $aims = $model->otherAddressesOf($to, $port);
        if (null !== $way->inside && !$way->isTranslated()) {
            $aims[] = [$way->inside, $port];
        }
        foreach ($aims as [$aim, $aimPort]) {
            $last = (new self($model))->enter($address, $ingress, $to, $aim, $aimPort ?? $port, $port);
            if ($last->holds()) {
                return $last;
            }
        }

        return $last ?? $way->walk;
    }

    private function enter(Ipv4 $address, Host $ingress, string $to, Address $aim, Port $aimPort, Port $port): Walk
    {
        $outside = new Host('outside/'.$address, (string) $address, null, $ingress->segment, $address, null, null);
        $target = $this->choose($this->hosts($to), [$outside]);
        $at = ['address' => (string) $address, 'segment' => $this->model->segmentName($ingress->segment)];
        $this->good(false, $outside, $this->facts->mark(), 'Arrives from {address} through {segment}.', $at);
        if (null !== $target && !$this->isKeptOut(false, $target)) {
            $packet = new Packet($address, $aim, $port->transport, self::ASKING_PORT, $aimPort->number);
            $arrived = $this->route(false, (string) $ingress->device, $ingress, $outside, $target, $packet);
            if (null !== $arrived) {
                $this->isServed($target, $address, $port);
            }
        }

        return $this->finish((string) $address, $this->label($to), $port);
    }

    private function walk(string $from, string $to, ?Port $port, bool $bothWays): Walk
    {
        $fromHosts = $this->hosts($from);
        $toHosts = $this->hosts($to);
        $flow = $port ?? Port::tcp(self::ASKING_PORT);
        $source = $this->choose($fromHosts, $toHosts);
        $target = $this->choose($toHosts, $fromHosts);
        $fromLabel = $this->label($from);
        $toLabel = $this->label($to);

        $arrived = null;
        if (null === $source || null === $target) {
            $this->stop(
                false,
                $from,
                null === $source ? $fromLabel : $toLabel,
                '',
                Fault::NotPlugged,
                IpVersion::Six === $this->model->version
                    ? '{host} has no address of IPv6 on record.'
                    : '{host} has no interface that could carry an address.',
                ['host' => null === $source ? $fromLabel : $toLabel],
            );
        } else {
            $number = ($this->aimPort ?? $flow)->number;
            $arrived = $this->oneDirection(false, $fromHosts, $source, $target, $this->aim ?? $target->address, static fn (
                Address $own,
                Address $aim,
            ): Packet => new Packet($own, $aim, $flow->transport, self::ASKING_PORT, $number));
        }
        $left = $this->left;
        if (null !== $arrived && null !== $left) {
            if (null === $port || $this->isServed($target, $arrived->source, $port)) {
                if ($bothWays) {
                    $this->answer($toHosts, $target, $left, $arrived);
                }
            }
        }

        return $this->finish($fromLabel, $toLabel, $port, $arrived?->source);
    }

    /** @param Address|null $seenAs the sender's address as the question arrived with it */
    private function finish(string|Message $from, string|Message $to, ?Port $port, ?Address $seenAs = null): Walk
    {
        return new Walk(
            $from,
            $to,
            $port,
            $this->hops,
            $this->facts,
            $this->culprit,
            $this->destination,
            $this->router,
            $this->fromSegment,
            $this->toSegment,
            array_values($this->rules),
            $this->asked?->destination,
            $seenAs,
        );
    }

    /**
     * The way back of what arrived. The asker takes an answer only from where it asked (RFC 9293 §3.10.7.3: anything else is no segment of
     * the connection).
     *
     * @param list<Host> $own all interfaces of the one who answers
     */
    private function answer(array $own, Host $target, Host $asker, Packet $arrived): void
    {
        $answer = $arrived->answer();
        $back = $this->oneDirection(true, $own, $target, $asker, $answer->destination, static fn (): Packet => $answer);
        if (null === $back || null === $this->asked || $back->equals($this->asked->answer())) {
            return;
        }
        // It came, but looks like somebody else's.
        array_pop($this->hops);
        $mark = $this->facts->mark();
        $this->fault(true, $asker, Fault::AnswerFromElsewhere, $mark, '{peer} asked {asked}, and the answer comes from {source}: it is not '
            .'taken for one.', [
                'peer' => $asker->label,
                'asked' => (string) $this->asked->destination,
                'source' => (string) $back->source,
            ]);
    }

    /**
     * One direction. Gives back the packet as it arrived, null when a hop broke.
     *
     * @param list<Host>                   $own   all interfaces of the sender; its own table picks one (handbook: connected network
     *     first, else the one default gateway)
     * @param \Closure(Address, Address): Packet $packet from the sender's own address and the one that is asked for
     */
    private function oneDirection(bool $back, array $own, Host $named, Host $target, ?Address $destination, \Closure $packet): ?Packet
    {
        $this->destination = $destination;
        $mark = $this->facts->mark();
        $sender = null === $destination ? $named : $this->egress($own, $named, $destination);
        if (null === $sender) {
            return $this->fault(
                $back,
                $named,
                Fault::Ambiguous,
                $mark,
                '{host} has two ways to {address}, on two wires: which of them it takes is chance.',
                ['host' => $this->model->device($named->device)->tag ?? $named->label, 'address' => (string) $destination],
            );
        }
        $this->culprit = $sender;
        $sender->note($this->facts, 'address', 'segment');
        $target->note($this->facts, 'address', 'segment');
        $at = ['host' => $sender->label, 'peer' => $target->label];

        if (null === $target->address || null === $destination) {
            $this->culprit = $target;

            return $this->fault($back, $target, Fault::NoAddress, $mark, '{peer} has no address.', $at);
        }
        if (null === $sender->address) {
            return $this->fault($back, $sender, Fault::NoAddress, $mark, '{host} has no address.', $at);
        }
        foreach ([[$sender, $sender->address], [$target, $target->address]] as [$host, $address]) {
            if (null !== $why = $address->whyNotAHost()) {
                $this->culprit = $host;

                return $this->fault($back, $host, Fault::UnusableAddress, $mark, '{why}', ['why' => $why]);
            }
            if ('' === $host->segment) {
                $this->culprit = $host;

                return $this->fault(
                    $back,
                    $host,
                    Fault::NotPlugged,
                    $mark,
                    '{who} is not plugged into any segment.',
                    ['who' => $host->label],
                );
            }
        }
        if ($this->isKeptOut($back, $sender) || $this->isKeptOut($back, $target)) {
            return null;
        }
        $packet = $packet($sender->address, $destination);
        if (!$back) {
            $this->left = $sender;
            $this->asked = $packet;
        }
        if ($sender->address->equals($destination)) {
            return $this->fault(
                $back,
                $sender,
                Fault::SameAddress,
                $mark,
                '{host} and {peer} both hold {address}: {host} talks to itself.',
                $at + ['address' => (string) $target->address],
            );
        }
        if ($sender->forwards) {
            // A router sends by its own table; its filter does not look at what it says itself.
            $this->good($back, $sender, $mark, '{host} sends by its own routing table.', $at);

            return $this->route($back, (string) $sender->device, null, $sender, $target, $packet);
        }
        $sender->note($this->facts, 'mask');
        $network = $sender->network;
        if (null === $network) {
            return $this->fault($back, $sender, Fault::NoAddress, $mark, '{host} has an address but no mask.', $at);
        }
        $at += ['address' => (string) $destination, 'mask' => '/'.$network->prefix(), 'network' => (string) $network];
        if ($network->contains($destination)) {
            if ($network->isEdge($destination)) {
                return $this->fault(
                    $back,
                    $sender,
                    Fault::EdgeOfOwnMask,
                    $mark,
                    '{host} refuses to send: by its mask {mask}, {address} is the edge of {network}, no host.',
                    $at,
                );
            }

            return $this->sendOnLink(
                $back,
                $sender,
                $target,
                $packet,
                $mark,
                Fault::NextDoor,
                '{host} believes {peer} is next door: by its mask {mask}, {address} lies in {network}, so it asks on its own wire, '
                    .'where nobody holds it.',
                '{host} finds {address} inside its own {network} and asks for it on its wire.',
                $at,
            );
        }
        if ($sender->address->isLinkLocal()) {
            return $this->fault(
                $back,
                $sender,
                Fault::LinkLocalOnly,
                $mark,
                '{host} has only the link-local address {own}: it reaches nothing beyond its own wire.',
                $at + ['own' => (string) $sender->address],
            );
        }
        $sender->note($this->facts, 'gateway');
        $gateway = $sender->gatewayAddress;
        $at['gateway'] = $sender->gateway ?? '';
        if (null === $gateway) {
            return $this->fault($back, $sender, Fault::NoGateway, $mark, $back
                ? 'The request arrives, the answer cannot leave: {host} has no gateway, and {address} is not in its {network}.'
                : '{host} has no gateway, and {address} is not in its {network}.', $at);
        }
        if ($gateway->equals($sender->address)) {
            return $this->sendOnLink(
                $back,
                $sender,
                $target,
                $packet,
                $mark,
                Fault::GatewayIsSelf,
                '{host} is its own gateway: it takes the whole world as next door and asks for {address} on its own wire, where nobody '
                    .'holds it.',
                '{host} is its own gateway and asks for {address} on its own wire.',
                $at,
            );
        }
        // Of IPv6 the gateway is one that holds on its own wire, as a rule, and lies in no other network (RFC 4861 §4.2).
        $isLocal = IpVersion::Six === $this->model->version && $gateway->isLinkLocal();
        if (!$isLocal && (!$network->contains($gateway) || $network->isEdge($gateway))) {
            return $this->fault(
                $back,
                $sender,
                Fault::GatewayOutside,
                $mark,
                'The gateway {gateway} of {host} is no host of its own {network}.',
                $at,
            );
        }
        $holders = $this->holders($sender->segment, $gateway);
        $proxy = [] === $holders ? $this->proxyFor($sender->segment, $gateway) : null;
        if (null !== $proxy) {
            $this->good($back, $sender, $mark, '{host} asks for its gateway {gateway}: {router} answers in its place.', $at + [
                'router' => $proxy->label,
            ]);

            return $this->route($back, (string) $proxy->device, $proxy, $sender, $target, $packet);
        }
        if ([] === $holders) {
            return $this->fault(
                $back,
                $sender,
                Fault::NoSuchGateway,
                $mark,
                '{host} sends to the gateway {gateway}, which nobody holds on {segment}.',
                $at + ['segment' => $this->model->segmentName($sender->segment)],
            );
        }
        if (\count($holders) > 1) {
            return $this->fault(
                $back,
                $sender,
                Fault::GatewayDuplicate,
                $mark,
                'The gateway {gateway} is held by {names} at once: unstable.',
                $at + ['names' => self::names($holders)],
            );
        }
        if (!$holders[0]->forwards) {
            return $this->fault(
                $back,
                $sender,
                Fault::GatewayIsHost,
                $mark,
                '{host} sends to the gateway {gateway}: that is {other}, which takes the packet and does not forward it.',
                $at + ['other' => $holders[0]->label],
            );
        }
        $this->good($back, $sender, $mark, '{host} hands it to its gateway {gateway}.', $at);

        return $this->route($back, (string) $holders[0]->device, $holders[0], $sender, $target, $packet);
    }

    /**
     * From router to router until a wire holds the target.
     *
     * @param Host|null $ingress by which interface it came in; null for what the router says itself
     */
    private function route(bool $back, string $router, ?Host $ingress, Host $sender, Host $target, Packet $packet): ?Packet
    {
        for ($passed = 0; $passed < self::ROUTERS_AT_MOST; ++$passed) {
            $mark = $this->facts->mark();
            $device = $this->model->device($router);
            $label = $device->tag ?? $router;
            $this->router = $router;
            $isNew = !$back || Transport::Udp === $packet->transport;
            $came = $packet;
            if (null !== $ingress) {
                $packet = $this->inward($back, $router, $label, $ingress, $packet, $isNew, $mark);
                $mark = $packet === $came ? $mark : $this->facts->mark();
            }
            $this->destination = $destination = $packet->destination;
            $at = ['router' => $label, 'address' => (string) $destination, 'peer' => $target->label];
            $port = $this->model->routingTable($router)->ownPort($destination);
            if (null !== $port) {
                $this->facts->note(
                    'routerPorts/'.$port->key.':address'.(IpVersion::Six === $this->model->version ? '6' : ''),
                    (string) $port->addressOf($this->model->version),
                );
                if ($target->device === $router) {
                    $this->hops[] = new Hop(
                        $back,
                        'routerPorts/'.$port->key,
                        $label,
                        $port->segment,
                        new Message('{router} holds {address} itself: it arrives.', $at),
                        null,
                        $this->facts,
                        $mark,
                    );

                    return $packet;
                }
                $this->culprit = $target;
                $this->toSegment = $port->segment;

                return $this->stop(
                    $back,
                    'routerPorts/'.$port->key,
                    $label,
                    $port->segment,
                    Fault::AnotherHolds,
                    '{router} holds {address} itself: {peer} never sees the packet.',
                    $at,
                    $mark,
                );
            }
            $out = $this->model->routingTable($router)->lookUp($destination);
            if (null === $out) {
                $this->fromSegment = $ingress?->segment;
                $this->toSegment = $target->segment;

                return $this->stop(
                    $back,
                    $ingress->ref ?? '',
                    $label,
                    $ingress->segment ?? $sender->segment,
                    Fault::NoRoute,
                    '{router} knows no route to {address}.',
                    $at,
                    $mark,
                );
            }
            [$egress, $route] = $out;
            $this->facts->note(
                'routes/'.$router.':to '.$destination,
                null === $route ? (string) $egress->networkOf($this->model->version) : $route->destination.' via '.$route->via,
            );
            if (
                null !== $ingress
                && !$this->passes($back, $device, $ingress, $egress, $packet, $mark, $at)
            ) {
                return null;
            }
            if (null !== $ingress) {
                $this->toSegment = $egress->segment;
                if (!$back) {
                    $this->routersOut[$router] = true;
                }
            }
            if (null !== $ingress) {
                $next = $this->outward($back, $router, $label, $egress, $came, $packet, $isNew, $mark);
                $mark = $next->equals($packet) ? $mark : $this->facts->mark();
                $packet = $next;
            }
            $this->carried = $packet;
            if (null === $route) {
                return $this->deliver($back, $label, $ingress, $egress, $sender, $target, $packet, $mark);
            }
            $next = array_values(array_filter(
                $this->holders($egress->segment, $route->via),
                static fn (Host $host): bool => $host->forwards,
            ));
            $proxy = [] === $next && [] === $this->model->holders($egress->segment, $route->via)
                ? $this->proxyFor($egress->segment, $route->via, $router)
                : null;
            $next = null === $proxy ? $next : [$proxy];
            if ([] === $next) {
                $this->fromSegment = $ingress->segment ?? $sender->segment;
                $this->toSegment = $target->segment;

                // The default way leads to a provider, who is no part of a job.
                $leaves = 0 === $route->destination->prefix() && [] === $this->model->holders($egress->segment, $route->via);

                return $this->stop(
                    $back,
                    $ingress->ref ?? '',
                    $label,
                    $egress->segment,
                    $leaves ? Fault::LeftTheSite : Fault::NextHopMissing,
                    $leaves
                        ? '{router} knows no way to {address} and hands it to {via}, out of the site.'
                        : '{router} sends {address} on to {via}, where no router answers.',
                    $at + ['via' => (string) $route->via],
                    $mark,
                );
            }
            $this->hops[] = new Hop(
                $back,
                'routerPorts/'.$egress->key,
                $label,
                $egress->segment,
                new Message('{router} sends it on to {next} ({via}).', $at + ['next' => $next[0]->label, 'via' => (string) $route->via]),
                null,
                $this->facts,
                $mark,
            );
            $ingress = $next[0];
            $router = (string) $next[0]->device;
        }
        $this->fromSegment = $ingress->segment;
        $this->toSegment = $target->segment;

        return $this->stop(
            $back,
            $ingress->ref,
            $this->model->device($router)->tag ?? $router,
            $ingress->segment,
            Fault::RoutingLoop,
            'The packet for {address} goes round in a circle between routers until its time to live is spent.',
            ['address' => (string) $packet->destination],
        );
    }

    private function deliver(
        bool $back,
        string|Message $label,
        ?Host $ingress,
        RouterPort $egress,
        Host $sender,
        Host $target,
        Packet $packet,
        int $mark,
    ): ?Packet {
        $destination = $packet->destination;
        $at = [
            'router' => $label,
            'address' => (string) $destination,
            'peer' => $target->label,
            'segment' => $this->model->segmentName($egress->segment),
            'there' => $this->model->segmentName($target->segment),
        ];
        $ref = 'routerPorts/'.$egress->key;
        $holders = $this->holders($egress->segment, $destination);
        $this->culprit = $target;
        $network = $egress->networkOf($this->model->version);
        if (true === $network?->isEdge($destination)) {
            return $this->stop(
                $back,
                $ref,
                $label,
                $egress->segment,
                Fault::UnusableAddress,
                '{address} is the edge of {network}: {router} does not forward to it.',
                $at + ['network' => (string) $network],
                $mark,
            );
        }
        $proxy = [] === $holders ? $this->proxyFor($egress->segment, $destination, $egress->router) : null;
        if (null !== $proxy) {
            $text = '{router} asks for {address} on {segment}: {other} answers in its place.';
            $at += ['other' => $proxy->label];
            $this->hops[] = new Hop($back, $ref, $label, $egress->segment, new Message($text, $at), null, $this->facts, $mark);

            return $this->goesOn() ? $this->route($back, (string) $proxy->device, $proxy, $sender, $target, $packet) : null;
        }
        if ([] === $holders) {
            return $this->stop($back, $ref, $label, $egress->segment, Fault::NobodyHolds, $target->segment === $egress->segment
                ? '{router} asks for {address} on {segment}: nobody there holds it.'
                : '{router} brings it to {segment}, where {address} belongs, but {peer} is plugged into {there}.', $at, $mark);
        }

        if (1 === \count($holders) && $holders[0]->device === $egress->router && $target->device !== $egress->router) {
            // An outside address of its own: it translates what comes in by that wire, and this came from another.
            return $this->stop(
                $back,
                $ref,
                $label,
                $egress->segment,
                Fault::AnotherHolds,
                '{router} holds {address} itself: {peer} never sees the packet.',
                $at,
                $mark,
            );
        }

        return $this->resolveHolder(
            $back,
            $ref,
            $label,
            $egress->segment,
            $holders,
            $sender,
            $target,
            $packet,
            $mark,
            '{router} delivers it on {segment}.',
            $at,
        );
    }

    /**
     * ARP on one's own wire.
     *
     * @param array<string, string|Message> $at
     */
    private function sendOnLink(
        bool $back,
        Host $sender,
        Host $target,
        Packet $packet,
        int $mark,
        Fault $none,
        string $noneText,
        string $text,
        array $at,
    ): ?Packet {
        $holders = $this->holders($sender->segment, $packet->destination);
        $proxy = [] === $holders ? $this->proxyFor($sender->segment, $packet->destination) : null;
        if (null !== $proxy) {
            $this->good($back, $sender, $mark, '{host} asks for {address} on its own wire: {router} answers in its place.', $at + [
                'router' => $proxy->label,
            ]);

            return $this->route($back, (string) $proxy->device, $proxy, $sender, $target, $packet);
        }
        if ([] === $holders) {
            return $this->fault($back, $sender, $none, $mark, $noneText, $at);
        }

        return $this->resolveHolder(
            $back,
            $sender->ref,
            $sender->label,
            $sender->segment,
            $holders,
            $sender,
            $target,
            $packet,
            $mark,
            $text,
            $at,
        );
    }

    /**
     * @param non-empty-list<Host>  $holders
     * @param array<string, string|Message> $at
     */
    private function resolveHolder(
        bool $back,
        string $ref,
        string|Message $label,
        string $segment,
        array $holders,
        Host $sender,
        Host $target,
        Packet $packet,
        int $mark,
        string $text,
        array $at,
    ): ?Packet {
        if (\count($holders) > 1) {
            $this->culprit = $target;

            return $this->stop(
                $back,
                $ref,
                $label,
                $segment,
                Fault::Duplicate,
                '{address} is held by {names} on one wire: who answers changes from minute to minute.',
                $at + ['names' => self::names($holders)],
                $mark,
            );
        }
        if (
            $holders[0]->forwards
            && $holders[0]->device !== $target->device
            && $this->translates($holders[0], $packet, !$back || Transport::Udp === $packet->transport)
        ) {
            $this->hops[] = new Hop($back, $ref, $label, $segment, new Message($text, $at), null, $this->facts, $mark);

            return $this->goesOn()
                ? $this->route($back, (string) $holders[0]->device, $holders[0], $sender, $target, $packet)
                : null;
        }
        if ($holders[0]->ref !== $target->ref && (null === $target->device || $holders[0]->device !== $target->device)) {
            $this->culprit = $target;

            return $this->stop(
                $back,
                $ref,
                $label,
                $segment,
                Fault::AnotherHolds,
                'On this wire {other} holds {address}, not {peer}.',
                $at + ['other' => $holders[0]->label],
                $mark,
            );
        }
        $this->hops[] = new Hop($back, $ref, $label, $segment, new Message($text, $at), null, $this->facts, $mark);
        $mark = $this->facts->mark();
        $this->hops[] = new Hop(
            $back,
            $target->ref,
            $target->label,
            $segment,
            new Message(
                $back ? 'The answer arrives at {peer}.' : '{peer} gets it at {address}.',
                ['peer' => $target->label, 'address' => (string) $packet->destination],
            ),
            null,
            $this->facts,
            $mark,
        );

        return $packet;
    }

    private function isServed(Host $target, Address $asker, Port $port): bool
    {
        $device = $this->model->device($target->device);
        if (null === $device) {
            return true;
        }
        $mark = $this->facts->mark();
        $service = $device->service($port, $this->model->face);
        $this->facts->note('devices/'.$device->key.':service '.$port, null !== $service);
        $at = ['peer' => $target->label, 'port' => (string) $port, 'kind' => $device->kind->name];
        if (null === $service) {
            foreach ($device->services($this->model->face) as $other) {
                if ($other->port->number === $port->number) {
                    $at['other'] = (string) $other->port;

                    $this->fault(false, $target, Fault::NotServed, $mark, '{peer} serves {other}, not {port}: UDP is not TCP.', $at);

                    return false;
                }
            }

            $this->fault(false, $target, Fault::NotServed, $mark, '{peer} ({kind}) does not serve {port}.', $at);

            return false;
        }
        if ($service->ownSubnetOnly) {
            $target->note($this->facts, 'mask');
            if (true !== $target->network?->contains($asker)) {
                $this->fault(
                    false,
                    $target,
                    Fault::OwnSubnetOnly,
                    $mark,
                    '{peer} serves {port} to its own subnet only, and {from} is outside.',
                    $at + ['from' => (string) $asker],
                );

                return false;
            }
        }
        $this->good(false, $target, $mark, '{peer} serves {port}.', $at);

        return true;
    }

    /**
     * The filter between two segments, or of one where the packet leaves by the interface it arrived on: the first rule that matches, else
     * the router's default for that case. Where it keeps state, the answer of a flow
     * that went out through this very router passes; on another way back it is a new flow.
     *
     * @param array<string, string|Message> $at
     */
    private function passes(bool $back, ?Device $device, Host $ingress, RouterPort $egress, Packet $packet, int $mark, array $at): bool
    {
        if (null === $device) {
            return true;
        }
        if ($back && $device->stateful && isset($this->routersOut[$device->key])) {
            $this->facts->note('devices/'.$device->key.':stateful', true);

            return true;
        }
        $flow = $packet->port();
        $rule = $this->rule($device->key, $ingress->segment, $egress->segment, $packet);
        if (null !== $rule) {
            $this->rules[$rule->key] = $rule;
        }
        $default = $ingress->segment === $egress->segment ? $device->forwardsOnSameInterface : $device->forwardsByDefault;
        $allows = null === $rule ? $default : $rule->allows;
        $this->facts->note(
            'filters/'.$device->key.':'.$ingress->segment.'>'.$egress->segment.' '.$flow,
            null === $rule ? 'default '.($allows ? 'allow' : 'deny') : (string) $rule,
        );
        if ($allows) {
            return true;
        }
        $this->fromSegment = $ingress->segment;
        $this->toSegment = $egress->segment;
        $at += [
            'from' => $this->model->segmentName($ingress->segment),
            'to' => $this->model->segmentName($egress->segment),
            'port' => (string) $flow,
            'rule' => null === $rule ? '' : (string) $rule->position,
        ];
        $this->stop($back, $ingress->ref, $device->tag, $ingress->segment, Fault::Filtered, match (true) {
            $back => 'The filter of {router} does not know this answer from {from} to {to} ({port}) and stops it.',
            null === $rule => 'The filter of {router} has no rule for {port} from {from} to {to}, and its default is to deny.',
            default => 'Rule {rule} of the filter of {router} denies {port} from {from} to {to}.',
        }, $at, $mark);

        return false;
    }

    private function rule(string $router, string $from, string $to, Packet $packet): ?FilterRule
    {
        $port = $packet->port();
        foreach ($this->model->rulesBetween($router, $from, $to) as $rule) {
            if ($rule->looksAtAddresses()) {
                $this->facts->add('filters/'.$router.':rule='.$rule);
            }
            if ($rule->matches($from, $to, $port, $packet->source, $packet->destination)) {
                return $rule;
            }
        }

        return null;
    }

    /** @return list<Host> */
    private function holders(string $segment, Address $address): array
    {
        $holders = $this->model->holders($segment, $address);
        $names = array_map(static fn (Host $host): string => $host->ref, $holders);
        if (\count($names) > 1) {
            sort($names);
        }
        $this->facts->add('segments/'.$segment.':holders of '.$address.'='.implode(' ', $names));

        return $holders;
    }

    /** @return list<Host> */
    private function hosts(string $end): array
    {
        if (str_starts_with($end, 'outposts/')) {
            $host = $this->model->host($end);

            return null === $host ? [] : [$host];
        }

        return $this->model->hostsOf($end);
    }

    private function label(string $end): string|Message
    {
        return str_starts_with($end, 'outposts/')
            ? new Message('Outpost on {segment}', ['segment' => $this->model->segmentName(substr($end, 9))])
            : $this->model->device($end)->tag ?? $end;
    }

    /**
     * Which of several interfaces is meant: one on a wire that both share, else one with a gateway, else one with an address.
     *
     * @param list<Host> $hosts
     * @param list<Host> $peers
     */
    private function choose(array $hosts, array $peers): ?Host
    {
        if (\count($hosts) < 2) {
            return $hosts[0] ?? null;
        }
        $shared = array_map(static fn (Host $peer): string => $peer->segment, $peers);
        $rank = static fn (Host $host): int => ($host->isFurther ? 16 : 0)
            + (null === $host->address ? 8 : 0)
            + (\in_array($host->segment, $shared, true) ? 0 : 4)
            + (null === $host->gatewayAddress ? 2 : 0);
        $best = null;
        foreach ($hosts as $host) {
            if (null === $best || $rank($host) < $rank($best)) {
                $best = $host;
            }
        }

        return $best;
    }

    /**
     * The sender's own table: the interface with the narrowest network that holds the target, else the one with a gateway.
     *
     * @param list<Host> $own
     *
     * @return Host|null null where two wires are equally near
     */
    private function egress(array $own, Host $named, Address $destination): ?Host
    {
        if (\count($own) < 2 || $named->forwards) {
            return $named;
        }
        $connected = $gated = [];
        foreach ($own as $host) {
            $host->note($this->facts, 'address', 'mask', 'gateway');
            if ('' === $host->segment || null === $host->address) {
                continue;
            }
            if (true === $host->network?->contains($destination)) {
                $connected[$host->network->prefix()][] = $host;
            }
            if (null !== $host->gatewayAddress) {
                // Of several addresses of one port the one beside the gateway is sent from (RFC 6724 §5 rule 2 by analogy).
                $gated[true === $host->network?->contains($host->gatewayAddress) ? 0 : 1][] = $host;
            }
        }
        krsort($connected);
        ksort($gated);
        $near = reset($connected) ?: (reset($gated) ?: [$named]);
        $wires = array_unique(array_map(static fn (Host $host): string => $host->segment, $near));

        return 1 === \count($wires) ? $near[0] : null;
    }

    private function translator(string $router): ?Translator
    {
        $rules = $this->model->translationsAt($router);

        return [] === $rules
            ? null
            : $this->translators[$router] ??= new Translator($rules, $this->model->ports($router));
    }

    private function translates(Host $holder, Packet $packet, bool $isNew): bool
    {
        $translator = $this->translator((string) $holder->device);

        return null !== $translator && !$translator->inward($holder->segment, $packet, $isNew)[0]->equals($packet);
    }

    private function inward(
        bool $back,
        string $router,
        string $label,
        Host $ingress,
        Packet $packet,
        bool $isNew,
        int $mark,
    ): Packet {
        $translator = $this->translator($router);
        if (null === $translator) {
            return $packet;
        }
        [$next, $rule] = $translator->inward($ingress->segment, $packet, $isNew);
        if ($translator->concerns($ingress->segment)) {
            $at = 'translations/'.$router.':in '.$ingress->segment.' '.$packet->destination;
            $this->facts->note($at, (string) ($rule ?? 'none'));
        }
        if (!$next->equals($packet)) {
            $this->hops[] = new Hop($back, $ingress->ref, $label, $ingress->segment, new Message(
                null === $rule
                    ? '{router} knows the flow: what comes back for {outside} goes on to {inside}.'
                    : '{router} translates {outside} to {inside}.',
                [
                    'router' => $label,
                    'outside' => $packet->destination.':'.$packet->port,
                    'inside' => $next->destination.':'.$next->port,
                ],
            ), null, $this->facts, $mark);
        }

        return $next;
    }

    private function outward(
        bool $back,
        string $router,
        string $label,
        RouterPort $egress,
        Packet $came,
        Packet $packet,
        bool $isNew,
        int $mark,
    ): Packet {
        $translator = $this->translator($router);
        if (null === $translator) {
            return $packet;
        }
        [$next, $rule] = $translator->outward($egress->segment, $came, $packet, $isNew);
        if ($translator->concerns($egress->segment)) {
            $at = 'translations/'.$router.':out '.$egress->segment.' '.$packet->source;
            $this->facts->note($at, (string) ($rule ?? 'none'));
        }
        if (!$next->equals($packet)) {
            $this->hops[] = new Hop($back, 'routerPorts/'.$egress->key, $label, $egress->segment, new Message(
                '{router} sends it out as from {outside}; it came from {inside}.',
                ['router' => $label, 'outside' => (string) $next->source, 'inside' => (string) $packet->source],
            ), null, $this->facts, $mark);
        }

        return $next;
    }

    /** A router on the wire that answers ARP for what it would forward elsewhere; of several the first that answers. */
    private function proxyFor(string $segment, Address $address, string $not = ''): ?Host
    {
        foreach ($this->model->proxiesOn($segment) as $port) {
            $out = $port->router === $not ? null : $this->model->routingTable($port->router)->lookUp($address);
            if (null !== $out && $out[0]->segment !== $segment) {
                $this->facts->note('routerPorts/'.$port->key.':proxyArp', true);

                return $this->model->host('routerPorts/'.$port->key);
            }
        }

        return null;
    }

    /** Routers that hand it to one another on their wires go in circles as those that route do. */
    private function goesOn(): bool
    {
        return ++$this->handed < self::ROUTERS_AT_MOST;
    }

    /** @param list<Host> $hosts */
    private static function names(array $hosts): string
    {
        $names = array_map(static fn (Host $host): string => (string) $host->label, $hosts);
        sort($names);

        return implode(', ', $names);
    }

    /** @param array<string, string|Message> $at */
    private function good(bool $back, Host $host, int $mark, string $text, array $at): void
    {
        $this->hops[] = new Hop($back, $host->ref, $host->label, $host->segment, new Message($text, $at), null, $this->facts, $mark);
    }

    /** Records a fault if Wi-Fi refuses the device (IEEE 802.1X): then no packet leaves or reaches it. */
    private function isKeptOut(bool $back, Host $host): bool
    {
        $refusal = $this->model->refusal($host->device);
        if (null === $refusal) {
            return false;
        }
        $mark = $this->facts->mark();
        foreach ($refusal->facts->texts() as $fact) {
            $this->facts->add($fact);
        }
        $this->culprit = $host;
        $this->fault($back, $host, Fault::NotAuthenticated, $mark, '{why}', ['why' => $refusal->text]);

        return true;
    }

    /** @param array<string, string|Message> $at */
    private function fault(bool $back, Host $host, Fault $fault, int $mark, string $text, array $at): null
    {
        return $this->stop($back, $host->ref, $host->label, $host->segment, $fault, $text, $at, $mark);
    }

    /** @param array<string, string|Message> $at */
    private function stop(
        bool $back,
        string $ref,
        string|Message $label,
        string $segment,
        Fault $fault,
        string $text,
        array $at,
        int $mark = 0,
    ): null {
        $this->hops[] = new Hop($back, $ref, $label, $segment, new Message($text, $at), $fault, $this->facts, $mark);

        return null;
    }
}
