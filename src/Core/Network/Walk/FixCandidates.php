<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Text\Message;

/**
 * What may be wrong with a walk that broke, each as one change at one place: everybody who had a part in it is looked at, and the
 * likeliest slip comes first. Typed other than planned, a plug in the wrong wire, a value of the neighbour's; a new address comes last.
 */
final class FixCandidates
{
    /** Typed other than planned: the plan says what is right. */
    private const TYPED = 10;
    /** An address, and a gateway, of another wire: re-plug before re-address. */
    private const PLUG = 15;
    private const MASK = 20;
    private const GATEWAY = 21;
    private const PORT = 22;
    private const SEGMENT = 23;
    private const VIA = 16;
    private const DESTINATION = 17;
    private const ROUTE = 24;
    private const DIGITS = 25;
    private const STATE = 26;
    private const RULE = 30;
    private const ADDRESS = 40;

    /** @var list<Remedy> */
    private array $found = [];
    /** @var array<string, true> */
    private array $looked = [];
    /** @var array<string, true>|null */
    private ?array $providers = null;

    private function __construct(private readonly NetworkModel $model, private readonly Walk $walk)
    {
    }

    /** @return list<Remedy> the likeliest first */
    public static function of(NetworkModel $model, Walk $walk, string $from, string $to): array
    {
        $suspects = new self($model, $walk);
        foreach ($suspects->involvedHosts($from, $to) as $host) {
            $suspects->host($host);
        }
        $suspects->routers();
        $suspects->filter();
        $found = array_values(array_filter($suspects->found, $suspects->isWithinTheJob(...)));
        // A sort that keeps the order of equals: the culprit was looked at first.
        usort($found, static fn (Remedy $a, Remedy $b): int => $a->rank <=> $b->rank);

        return $found;
    }

    /** A router of the provider is drawn in the plan and not ours to change: it never learns our private networks. */
    private function isWithinTheJob(Remedy $remedy): bool
    {
        foreach ($remedy->change->edits as $edit) {
            $row = new Row($edit->row ?? $this->model->plan->row($edit->section, $edit->key) ?? []);
            $router = match ($edit->section) {
                'devices' => $edit->key,
                'routes', 'routerPorts', 'filters', 'translations' => $row->text('router'),
                default => '',
            };
            if (isset($this->providers()[$router])) {
                return false;
            }
        }

        return true;
    }

    /** @return array<string, true> routers at a public address that another router of the job sends everything else to */
    private function providers(): array
    {
        if (null === $this->providers) {
            $this->providers = [];
            foreach ($this->model->plan->routes as $route) {
                $isUp = 0 === $route->destination->prefix() && !$route->via->isPrivate();
                if ($isUp) {
                    foreach ($this->model->allHolders($route->via) as $holder) {
                        if ($holder->forwards && null !== $holder->device && $holder->device !== $route->router) {
                            $this->providers[$holder->device] = true;
                        }
                    }
                }
            }
        }

        return $this->providers;
    }

    /** @return list<Host> whose settings had a part: the culprit, both ends, everybody who holds an address that was asked for */
    private function involvedHosts(string $from, string $to): array
    {
        $hosts = null === $this->walk->culprit ? [] : [$this->walk->culprit];
        foreach ([$to, $from] as $end) {
            foreach ($this->model->hostsOf($end) as $host) {
                $hosts[] = $host;
            }
        }
        foreach ($hosts as $host) {
            foreach ([$host->address, $host->gatewayAddress] as $address) {
                if (null !== $address) {
                    foreach ($this->model->allHolders($address) as $other) {
                        $hosts[] = $other;
                    }
                }
            }
        }
        if (null !== $this->walk->destination) {
            foreach ($this->model->allHolders($this->walk->destination) as $other) {
                $hosts[] = $other;
            }
        }

        return array_values(array_filter($hosts, fn (Host $host): bool => $this->isNew($host->ref)));
    }

    private function isNew(string $what): bool
    {
        $known = isset($this->looked[$what]);
        $this->looked[$what] = true;

        return !$known;
    }

    private function host(Host $host): void
    {
        $nic = str_starts_with($host->ref, 'nics/') ? $this->model->plan->nics[substr($host->ref, 5)] ?? null : null;
        if (null === $nic) {
            $segment = null !== OutpostKey::segment($host->ref) ? $this->model->segment($host->segment) : null;
            if (null !== $segment) {
                $this->gatewayOfAll($segment);
            }

            return;
        }
        $this->plug($host, $nic);
        $segment = $this->model->segment($host->segment);
        if (null === $segment) {
            return;
        }
        foreach (['address', 'mask', 'gateway'] as $name) {
            $this->addTypo($host, $nic, $segment, $name);
        }
        $this->mask($host, $nic, $segment);
        $this->gateway($host, $nic, $segment);
        $this->address($host, $nic, $segment);
    }

    /** What was put in is another than what was to be put in. */
    private function addTypo(Host $host, Nic $nic, Segment $segment, string $name): void
    {
        $value = $nic->setting($name);
        $planned = $value->planned;
        if (Face::Planned === $this->model->face || null === $planned || $value->effective($this->model->face) === $planned) {
            return;
        }
        $address = Ipv4::tryFromString($planned);
        if ('address' === $name && (null === $address || !$segment->network->contains($address) || $segment->network->isEdge($address))) {
            return;
        }
        $text = '' === $planned ? new Message('blank') : $planned;
        $this->tell(self::TYPED, $host, $nic, [$name => $planned], match ($name) {
            'address' => new Message('Give {host} the address {address}.', ['host' => $host->label, 'address' => $text]),
            'mask' => new Message('Give {host} the mask {mask} of its segment.', ['host' => $host->label, 'mask' => $text]),
            default => new Message('Give {host} the gateway {gateway}.', ['host' => $host->label, 'gateway' => $text]),
        });
    }

    /** Its address lives on another wire, and so does its gateway where it has a word of its own about that: one plug is wrong. */
    private function plug(Host $host, Nic $nic): void
    {
        $address = $host->ipv4();
        if (null === $address) {
            return;
        }
        $home = $this->model->plan->segmentAround($address);
        if (null === $home || $home->key === $host->segment || $home->network->isEdge($address)) {
            return;
        }
        $own = $nic->setting('gateway')->own($this->model->face) ?? $nic->setting('gateway')->own(Face::Planned);
        $gateway = Ipv4::tryFromString($own ?? '');
        $planned = $nic->plannedAddress();
        if (
            (null !== $gateway && !$home->network->contains($gateway))
            || (null !== $planned && !$home->network->contains($planned))
            || [] !== $this->model->holders($home->key, $address)
        ) {
            return;
        }
        $change = new Change(
            new Message('Plug {host} into {segment}, where its address {address} belongs.', [
                'host' => $host->label,
                'segment' => $home->name,
                'address' => (string) $host->address,
            ]),
            [Edit::put('nics', $nic->key, 'segment', $nic->segment, $home->key)],
        );
        $this->found[] = new Remedy(self::PLUG, $change);
    }

    private function mask(Host $host, Nic $nic, Segment $segment): void
    {
        $mask = (string) $segment->network->mask;
        if ((string) $host->mask !== $mask) {
            $this->tell(self::MASK, $host, $nic, ['mask' => $mask], new Message('Give {host} the mask {mask} of its segment.', [
                'host' => $host->label,
                'mask' => $mask,
            ]));
        }
    }

    private function gateway(Host $host, Nic $nic, Segment $segment): void
    {
        $ports = $this->portsOf($segment);
        $held = null !== $segment->gateway
            && [] !== array_filter($ports, static fn (RouterPort $port): bool => $port->address->equals($segment->gateway));
        $gateway = $held ? $segment->gateway : ($ports[0]->address ?? null);
        if (null === $gateway || (string) $gateway === $host->gateway) {
            return;
        }
        $isHome = null !== $host->address && $segment->network->contains($host->address);
        if ($isHome && ($held || null === $segment->gateway || (string) $segment->gateway !== $host->gateway)) {
            $this->tell(self::GATEWAY, $host, $nic, ['gateway' => (string) $gateway], new Message('Give {host} the gateway {gateway}.', [
                'host' => $host->label,
                'gateway' => (string) $gateway,
            ]));
        }
        $this->gatewayOfAll($segment);
    }

    /** What the segment calls its gateway, no router holds: one of the two is wrong, and the odder number is it. */
    private function gatewayOfAll(Segment $segment): void
    {
        $gateway = $segment->gateway;
        $ports = $this->portsOf($segment);
        $port = $ports[0] ?? null;
        if (
            null === $gateway
            || null === $port
            || [] !== array_filter($ports, static fn (RouterPort $one): bool => $one->address->equals($gateway))
            || !$this->isNew('gateway of '.$segment->key)
        ) {
            return;
        }
        $network = $segment->network;
        $usual = static fn (Ipv4 $address): bool => $address->equals($network->firstHost()) || $address->equals($network->lastHost());
        if ($network->contains($gateway) && !$network->isEdge($gateway) && [] === $this->model->holders($segment->key, $gateway)) {
            $this->found[] = new Remedy(
                $usual($gateway) || !$usual($port->address) ? self::PORT : self::SEGMENT + 1,
                $this->portAt($port, $gateway, $port->mask),
            );
        }
        $this->found[] = new Remedy(self::SEGMENT, new Change(
            new Message('Plan {gateway} as gateway of {segment}.', ['gateway' => (string) $port->address, 'segment' => $segment->name]),
            [Edit::put('segments', $segment->key, 'gateway', (string) $gateway, (string) $port->address)],
        ));
    }

    /** Another address: the digits put right where that can be told, else the next that is free. */
    private function address(Host $host, Nic $nic, Segment $segment): void
    {
        $free = FreeAddress::on($this->model->plan, $segment, $nic);
        $kind = $this->model->device($nic->device)->kind->code ?? '';
        $isHome = null !== $host->address
            && $segment->network->contains($host->address)
            && !$segment->network->isEdge($host->address)
            && null === $host->address->whyNotAHost();
        $held = $host->ipv4();
        if (!$isHome && null !== $held) {
            foreach (self::transpositions($held) as $address) {
                if ($free->isFree($address)) {
                    $this->readdress(self::DIGITS, $host, $nic, $segment, $address);
                }
            }
        }
        $shared = null !== $host->address && \count($this->model->holders($host->segment, $host->address)) > 1;
        $isAsked = null !== $host->address && true === $this->walk->destination?->equals($host->address);
        if ($isHome && !$shared && !$isAsked) {
            return;
        }
        $planned = $nic->plannedAddress();
        $address = null !== $planned && $free->isFree($planned) && (string) $planned !== (string) $host->address
            ? $planned
            : $free->next($kind) ?? $free->next('');
        if (null !== $address) {
            $this->readdress(self::ADDRESS + ($isHome && !$this->givesWay($host, $segment) ? 1 : 0), $host, $nic, $segment, $address);
        }
    }

    /** Of two that hold one address: who stands among the addresses of another kind, else the later in the roster. */
    private function givesWay(Host $host, Segment $segment): bool
    {
        $last = null;
        if (null !== $host->address) {
            foreach ($this->model->holders($host->segment, $host->address) as $holder) {
                $device = $this->model->device($holder->device);
                $rank = [$this->isStray($holder, $segment) ? 1 : 0, $device->position ?? 0];
                if (str_starts_with($holder->ref, 'nics/') && (null === $last || $rank > $last[0])) {
                    $last = [$rank, $holder->ref];
                }
            }
        }

        return null === $last || $last[1] === $host->ref;
    }

    private function isStray(Host $host, Segment $segment): bool
    {
        $address = $host->ipv4();
        $kind = $this->model->device($host->device)->kind->code ?? '';
        $for = [];
        foreach ($segment->blocks as $block) {
            if (null !== $address && $block['range']->contains($address)) {
                $for[] = $block['for'];
            }
        }

        return [] !== $for && !\in_array($kind, $for, true);
    }

    private function readdress(int $rank, Host $host, Nic $nic, Segment $segment, Ipv4 $address): void
    {
        $mask = (string) $segment->network->mask;
        // What a port does not say itself it has from its segment as soon as it has an address.
        $isOwn = !$nic->setting('mask')->isEmpty();
        $given = new Host(
            $host->ref,
            $host->label,
            $host->device,
            $host->segment,
            $host->address,
            $isOwn ? $host->mask : $segment->network->mask,
            $nic->setting('gateway')->isEmpty() && false !== $this->model->device($nic->device)?->kind->port($nic->name)?->gateway
                ? $segment->dhcpValue('gateway')
                : $host->gateway,
        );
        $this->tell(
            $rank,
            $given,
            $nic,
            ['address' => (string) $address] + ((string) $given->mask === $mask ? [] : ['mask' => $mask]),
            new Message('Give {host} the address {address}.', ['host' => $host->label, 'address' => (string) $address]),
        );
    }

    /** @param array<string, string> $values */
    private function tell(int $rank, Host $host, Nic $nic, array $values, Message $why): void
    {
        $edits = [];
        foreach ($values as $name => $value) {
            if (null === $this->model->plan->settings()->definition(SettingRef::ofDeclared('nics', $nic->key, $name))) {
                // Its kind has no such setting.
                return;
            }
            $edits = [
                ...$edits,
                ...SettingChange::toHold($nic->record().'#'.$name, $nic->setting($name), $value, $this->model->face),
            ];
        }
        $edits = array_values(array_filter($edits, static fn (Edit $edit): bool => $edit->before !== $edit->after));
        if ([] === $edits) {
            return;
        }
        $this->found[] = new Remedy($rank, new Change($why, $edits), new Host(
            $host->ref,
            $host->label,
            $host->device,
            $host->segment,
            isset($values['address']) ? Ipv4::tryFromString($values['address']) : $host->address,
            isset($values['mask']) ? Mask::tryFromString($values['mask']) : $host->mask,
            $values['gateway'] ?? $host->gateway,
        ));
    }

    private function routers(): void
    {
        $seen = [];
        foreach ($this->walk->hops as $hop) {
            if (str_starts_with($hop->ref, 'routerPorts/')) {
                $router = $this->model->plan->routerPorts[substr($hop->ref, 12)]->router ?? null;
                if (null !== $router) {
                    $seen[$router] = true;
                }
            }
        }
        if (null !== $this->walk->router) {
            $seen[$this->walk->router] = true;
        }
        foreach (array_keys($seen) as $router) {
            foreach ($this->model->ports((string) $router) as $port) {
                $this->interface($port);
            }
            $this->routes((string) $router);
        }
        // A port that slipped out of its network is on nobody's way any more.
        foreach ($this->ends() as $segment) {
            foreach ($this->model->plan->routerPortsOn($segment) as $port) {
                $this->interface($port);
            }
        }
    }

    /** @return list<string> the segments that it went from, to and between */
    private function ends(): array
    {
        $segments = [];
        foreach ($this->walk->hops as $hop) {
            $segments[$hop->segment] = true;
        }
        foreach ([$this->walk->fromSegment, $this->walk->toSegment, $this->walk->culprit?->segment] as $segment) {
            $segments[$segment ?? ''] = true;
        }
        $aim = $this->walk->destination;
        $home = $aim instanceof Ipv4 ? $this->model->plan->segmentAround($aim) : null;
        $segments[$home->key ?? ''] = true;

        return array_values(array_filter(
            array_map(strval(...), array_keys($segments)),
            fn (string $key): bool => null !== $this->model->segment($key),
        ));
    }

    /** An interface that does not fit its wire. */
    private function interface(RouterPort $port): void
    {
        $segment = $this->model->segment($port->segment);
        if (null === $segment || !$this->isNew('fit of '.$port->key)) {
            return;
        }
        $mask = $segment->network->mask;
        $isHome = $segment->network->contains($port->address) && !$segment->network->isEdge($port->address);
        if ($isHome && $port->mask->prefix !== $mask->prefix) {
            $this->found[] = new Remedy(self::MASK, $this->portAt($port, $port->address, $mask));
        }
        $gateway = $segment->gateway;
        $isFree = null !== $gateway && $segment->network->contains($gateway) && [] === $this->model->holders($segment->key, $gateway);
        if (!$isHome && $isFree) {
            $this->found[] = new Remedy(self::PORT, $this->portAt($port, $gateway, $mask));
        }
        if (!$isHome && null === $gateway) {
            foreach (self::transpositions($port->address) as $address) {
                if ($segment->network->contains($address) && [] === $this->model->holders($segment->key, $address)) {
                    $this->found[] = new Remedy(self::DIGITS, $this->portAt($port, $address, $mask));
                }
            }
        }
        // What others route by and nobody holds on this wire may be meant to be this very interface.
        foreach ($this->model->plan->routes as $route) {
            if (
                $segment->network->contains($route->via)
                && $route->router !== $port->router
                && !$route->via->equals($port->address)
                && [] === $this->model->holders($segment->key, $route->via)
            ) {
                $this->found[] = new Remedy(self::PORT, $this->portAt($port, $route->via, $mask));
                break;
            }
        }
    }

    private function portAt(RouterPort $port, Ipv4 $address, Mask $mask): Change
    {
        $edits = [];
        foreach (['address' => [$port->address, $address], 'mask' => [$port->mask, $mask]] as $field => [$before, $after]) {
            if ((string) $before !== (string) $after) {
                $edits[] = Edit::put('routerPorts', $port->key, $field, (string) $before, (string) $after);
            }
        }

        return new Change(new Message('Give {router} {address} on {segment}.', [
            'router' => $this->model->device($port->router)->tag ?? $port->router,
            'address' => $address.$mask,
            'segment' => $this->model->segmentName($port->segment),
        ]), $edits);
    }

    /** The way of a router to where it was to go, mended or added; by the fewest routers. */
    private function routes(string $router): void
    {
        $aims = array_filter(
            [$this->walk->destination, $this->walk->culprit?->address],
            static fn (?Address $one): bool => $one instanceof Ipv4,
        );
        foreach ($aims as $aim) {
            $goal = $this->portAround($aim, $router);
            $via = null === $goal ? null : Topology::nextHop($this->model, $router, $goal->router);
            if (null === $goal || null === $via || !$this->isNew("$router>$goal->network")) {
                continue;
            }
            $own = array_filter($this->model->plan->routes, static fn (StaticRoute $route): bool => $route->router === $router);
            $fits = false;
            foreach ($own as $route) {
                $covers = $route->destination->contains($aim);
                if ($covers && !$route->via->equals($via->address)) {
                    $this->found[] = new Remedy(self::VIA, $this->routeChange($router, $goal, $via, Edit::put(
                        'routes',
                        $route->key,
                        'via',
                        (string) $route->via,
                        (string) $via->address,
                    ), $route->destination));
                }
                $fits = $fits || ($covers && $route->via->equals($via->address));
                if (!$covers && $route->via->equals($via->address) && $this->leadsNowhere($route->destination)) {
                    $this->found[] = new Remedy(self::DESTINATION, $this->routeChange($router, $goal, $via, Edit::put(
                        'routes',
                        $route->key,
                        'destination',
                        (string) $route->destination,
                        (string) $goal->network,
                    )));
                }
            }
            if (!$fits && null === ($this->model->routingTable($router)->lookUp($aim)[0] ?? null)) {
                $this->found[] = new Remedy(self::ROUTE, $this->routeChange($router, $goal, $via, Edit::add('routes', [
                    'key' => $this->model->plan->freeKey('routes', $router.'-'.$goal->segment),
                    'router' => $router,
                    'destination' => (string) $goal->network,
                    'via' => (string) $via->address,
                ])));
            }
        }
    }

    /** A rule ahead of the one that denied. What the administrator is asked for is exactly this one pair and port. */
    private function filter(): void
    {
        $broken = $this->walk->brokenHop();
        $router = $this->model->device($this->walk->router);
        [$from, $to] = [$this->walk->fromSegment, $this->walk->toSegment];
        if (Fault::Filtered !== $broken?->fault || null === $router || null === $from || null === $to) {
            return;
        }
        if ($broken->back && !$router->stateful) {
            $this->found[] = new Remedy(self::STATE, new Change(
                new Message('Let {router} keep state, so that answers of a flow it let out come back.', ['router' => $router->tag]),
                [Edit::put('devices', $router->key, 'stateful', false, true)],
            ));

            return;
        }
        $port = $this->walk->port;
        $own = array_filter($this->model->plan->filters, static fn (FilterRule $rule): bool => $rule->router === $router->key);
        $positions = array_map(static fn (FilterRule $rule): int => $rule->position, $own);
        // Positions are whole numbers from 1; a tie is broken by the key, and "+" would not be one: shift the others only where needed.
        $position = max(1, ([] === $positions ? 10 : min($positions)) - 1);
        $edits = [];
        if ([] !== $positions && min($positions) <= $position) {
            foreach ($own as $rule) {
                $edits[] = Edit::put('filters', $rule->key, 'position', $rule->position, $rule->position + 10);
            }
            $position = 10;
        }
        $asked = $broken->back ? Walker::ASKING_PORT : $port?->number;
        $edits[] = Edit::add('filters', [
            'key' => $this->model->plan->freeKey('filters', $router->key.'-'.$from.'-'.$to),
            'router' => $router->key,
            'position' => $position,
            'from' => $from,
            'to' => $to,
            'transport' => match (true) {
                null !== $port => $port->transport->value,
                $broken->back => 'tcp',
                default => 'any',
            },
            'portFirst' => $asked,
            'portLast' => $broken->back ? 65535 : $asked,
            'action' => 'allow',
            'note' => null,
        ]);
        $this->found[] = new Remedy(self::RULE, new Change(
            new Message('Ask for a rule at {router}: allow {port} from {from} to {to}.', [
                'router' => $router->tag,
                'port' => match (true) {
                    $broken->back => (string) Port::of($port->transport ?? Transport::Tcp, Walker::ASKING_PORT),
                    null === $port => 'any',
                    default => (string) $port,
                },
                'from' => $this->model->segmentName($from),
                'to' => $this->model->segmentName($to),
            ]),
            $edits,
        ));
    }

    private function routeChange(string $router, RouterPort $goal, RouterPort $via, Edit $edit, ?Network $network = null): Change
    {
        return new Change(new Message('Tell {router} the route to {network} by {via}.', [
            'router' => $this->model->device($router)->tag ?? $router,
            'network' => (string) ($network ?? $goal->network),
            'via' => (string) $via->address,
        ]), [$edit]);
    }

    /** A destination that no segment has anything to do with. */
    private function leadsNowhere(Network $destination): bool
    {
        foreach ($this->model->plan->segments as $segment) {
            if ($segment->network->overlaps($destination)) {
                return false;
            }
        }

        return true;
    }

    private function portAround(Ipv4 $address, string $not): ?RouterPort
    {
        foreach ($this->model->plan->routerPorts as $port) {
            if ($port->network->contains($address)) {
                // On its own wire a router needs no route.
                return $port->router === $not ? null : $port;
            }
        }

        return null;
    }

    /** @return list<RouterPort> routers' interfaces that fit the wire they are on */
    private function portsOf(Segment $segment): array
    {
        return array_values(array_filter(
            $this->model->plan->routerPortsOn($segment->key),
            static fn (RouterPort $port): bool => $segment->network->contains($port->address),
        ));
    }

    /**
     * What an address may have been before two neighbouring digits, or two octets, were swapped.
     *
     * @return list<Ipv4>
     */
    private static function transpositions(Ipv4 $address): array
    {
        $text = (string) $address;
        $found = [];
        for ($i = 0; $i < \strlen($text) - 1; ++$i) {
            $other = $text;
            [$other[$i], $other[$i + 1]] = [$text[$i + 1], $text[$i]];
            $found[$other] = Ipv4::tryFromString($other);
        }
        $octets = explode('.', $text);
        for ($i = 0; $i < 3; ++$i) {
            $other = $octets;
            [$other[$i], $other[$i + 1]] = [$octets[$i + 1], $octets[$i]];
            $found[implode('.', $other)] = Ipv4::tryFromString(implode('.', $other));
        }
        unset($found[$text]);

        return array_values(array_filter($found));
    }
}
