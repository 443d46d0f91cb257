<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;
use Vorhut\Core\Network\Walk\Host;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\OutpostKey;

/**
 * Groups devices that no router, mask or rule of a network can tell apart: a walk for one of them is valid for all. Two devices are
 * equivalent when their ports have the same mask and gateway in the same segments, and their addresses are in the same networks, at the
 * edge of none, and named by the same rules; a device whose address is shared or translated is equivalent to none.
 */
final class HostEquivalence
{
    /** @var array<int, array<int, array{Network, int}>> prefix → network → it, with a number of its own */
    private array $networks = [];
    /** @var array<int, true> addresses that something is routed or translated by */
    private array $special = [];
    /** @var array<int, FilterRule> rules that look at addresses */
    private readonly array $listed;
    /** @var array<string, string> device → what it is like */
    private array $known = [];
    /** @var array<string, list<string>|false> */
    private array $homes = [];
    /** @var array<string, array<string, true>> */
    private array $besides = [];
    /** @var array<string, string> place → what it is like */
    private array $places = [];
    /** @var array<string, list<int>> transport → where the ports of some rule begin or end */
    private array $cuts = [];

    public function __construct(private readonly NetworkModel $model)
    {
        $plan = $model->plan;
        foreach ($plan->segments as $segment) {
            $this->network($segment->network);
        }
        foreach ($plan->routerPorts as $port) {
            $this->network($port->network);
            $this->special[$port->address->number] = true;
        }
        foreach ($plan->routes as $route) {
            $this->network($route->destination);
            $this->special[$route->via->number] = true;
        }
        foreach ($plan->translations as $rule) {
            foreach ([$rule->address, $rule->inside] as $address) {
                if (null !== $address) {
                    $this->special[$address->number] = true;
                }
            }
        }
        foreach (array_keys($plan->segments) as $key) {
            $outpost = $model->outpost((string) $key)?->ipv4();
            if (null !== $outpost) {
                $this->special[$outpost->number] = true;
            }
        }
        $this->listed = array_filter($plan->filters, static fn (FilterRule $rule): bool => $rule->looksAtAddresses());
        foreach (Transport::cases() as $transport) {
            $cuts = [];
            foreach ([...$plan->filters, ...$plan->translations] as $rule) {
                if (null !== $rule->portFirst && \in_array($rule->transport, [null, $transport], true)) {
                    $cuts[$rule->portFirst] = $cuts[($rule->portLast ?? $rule->portFirst) + 1] = true;
                }
            }
            $this->cuts[$transport->value] = array_keys($cuts);
        }
    }

    /** @return string the same text for those that are alike */
    public function of(string $device): string
    {
        if (!isset($this->known[$device])) {
            $hosts = $this->model->hostsOf($device);
            // A port that is plugged in nowhere and holds nothing has no part in any walk while another has.
            $used = array_filter($hosts, static fn (Host $host): bool => null !== $host->address || '' !== $host->segment);
            $this->known[$device] = implode('+', array_map($this->host(...), [] === $used ? $hosts : $used))
                .(null === $this->model->refusal($device) ? '' : ' kept out '.$device);
        }

        return $this->known[$device];
    }

    /** Flows of one class are walked alike, port by port. */
    public function ofFlow(Flow $flow): string
    {
        return $this->ofEnd($flow->from).'>'.$this->ofEnd($flow->to).(null === $flow->outside ? '' : ' '.$flow->outside);
    }

    private function ofEnd(string $end): string
    {
        return Flow::OUTSIDE === $end || null !== OutpostKey::segment($end) ? $end : $this->of($end);
    }

    /** @return list<Port> of the range of a flow, one of each part that filters and translations treat alike */
    public function portsOf(Flow $flow): array
    {
        $numbers = [$flow->port->number => true, $flow->last => true];
        foreach ($this->cuts[$flow->port->transport->value] as $cut) {
            if ($cut > $flow->port->number && $cut <= $flow->last) {
                $numbers[$cut] = true;
            }
        }

        return array_map(static fn (int $number): Port => Port::of($flow->port->transport, $number), array_keys($numbers));
    }

    /**
     * Groups places that neither a device nor the routers can tell apart: with one router in the segment and the same rules, all other
     * hosts have the same return route. If a device has a mask that treats other addresses as local, every place is a group of its own.
     *
     * @return string the same text for places that are alike for this device
     */
    public function ofPlace(string $place, string $device): string
    {
        $homes = $this->homes[$device] ??= $this->homeSegments($device);
        if (false !== $homes) {
            foreach ($homes as $home) {
                if (isset($this->besides($home)[$place])) {
                    return 'at '.$place;
                }
            }
        }
        if (false === $homes) {
            return 'at '.$place;
        }

        return $this->places[$place] ??= $this->place($place);
    }

    /** @return list<string>|false the segments of a device; false if it has an address outside its segment's network */
    private function homeSegments(string $device): array|false
    {
        $homes = [];
        foreach ($this->model->hostsOf($device) as $host) {
            if (null === $host->address) {
                continue;
            }
            $home = ($this->model->plan->segments[$host->segment] ?? null)?->network;
            if (null === $home || true !== $host->network?->equals($home)) {
                return false;
            }
            $homes[] = $host->segment;
        }

        return $homes;
    }

    /** @return array<string, true> a segment, and all whose networks overlap with its own */
    private function besides(string $segment): array
    {
        if (!isset($this->besides[$segment])) {
            $network = $this->model->plan->segments[$segment]->network;
            foreach ($this->model->plan->segments as $other) {
                if ($other->network->overlaps($network)) {
                    $this->besides[$segment][$other->key] = true;
                }
            }
        }

        return $this->besides[$segment] ?? [];
    }

    private function place(string $place): string
    {
        $plan = $this->model->plan;
        $outpost = $this->model->outpost($place);
        $ports = $plan->routerPortsOn($place);
        $gateway = $outpost?->gatewayAddress;
        if (
            null === $outpost?->address
            || null === $gateway
            || 1 !== \count($ports)
            || !$ports[0]->address->equals($gateway)
            || 1 !== \count($this->model->allHolders($gateway))
            || 1 !== \count($this->model->allHolders($outpost->address))
            || true !== $outpost->network?->equals($ports[0]->network)
        ) {
            return 'at '.$place;
        }
        foreach ($plan->translations as $rule) {
            if ($place === $rule->outside || true === $rule->inside?->equals($outpost->address)) {
                return 'at '.$place;
            }
        }
        $here = $outpost->address;
        $sort = ['by '.$ports[0]->router];
        foreach ($plan->filters as $i => $rule) {
            foreach ([[$rule->from, $rule->fromAddresses], [$rule->to, $rule->toAddresses]] as $side => [$segment, $ranges]) {
                if ($segment === $place) {
                    $sort[] = 'r'.$i.$side;
                }
                foreach ($ranges as $n => $range) {
                    if ($here instanceof Ipv4 && $range->contains($here)) {
                        $sort[] = 'a'.$i.$side.$n;
                    }
                }
            }
        }
        foreach ($this->routers() as $router) {
            $out = $this->model->routingTable($router)->lookUp($outpost->address);
            $sort[] = null === $out ? '-' : ($out[0]->segment === $place ? 'here' : $out[0]->segment).' '.($out[1]->via ?? '');
        }

        return implode('|', $sort);
    }

    /** @return list<string> */
    private function routers(): array
    {
        $routers = [];
        foreach ($this->model->plan->routerPorts as $port) {
            $routers[$port->router] = true;
        }

        return array_map(strval(...), array_keys($routers));
    }

    /** @return string the same text for ports that no rule tells apart */
    public function ofPort(?Port $port): string
    {
        if (null === $port) {
            return '';
        }
        $at = 0;
        foreach ($this->cuts[$port->transport->value] as $cut) {
            $at += $cut <= $port->number ? 1 : 0;
        }

        return $port->transport->value.$at;
    }

    private function network(Network $network): void
    {
        $this->networks[$network->mask->prefix][$network->address->number] ??= [$network, \count($this->networks, \COUNT_RECURSIVE)];
    }

    private function host(Host $host): string
    {
        $address = $host->ipv4();
        if (null === $address || '' === $host->segment) {
            return 'no address in '.$host->segment.(null === $host->gatewayAddress ? '' : ' by '.$host->gateway);
        }
        if (
            null !== $address->whyNotAHost()
            || isset($this->special[$address->number])
            || \count($this->model->allHolders($address)) > 1
            || $host->forwards
        ) {
            return $host->ref;
        }
        $in = [];
        foreach ($this->networks as $prefix => $networks) {
            $network = $networks[$address->number & (0xFFFFFFFF << (32 - $prefix)) & 0xFFFFFFFF] ?? null;
            if (null !== $network) {
                if ($network[0]->isEdge($address)) {
                    return $host->ref;
                }
                $in[] = $network[1];
            }
        }
        foreach ($this->listed as $i => $rule) {
            foreach ([$rule->fromAddresses, $rule->toAddresses] as $side => $ranges) {
                foreach ($ranges as $range) {
                    if ($range->contains($address)) {
                        $in[] = 'r'.$i.$side;
                    }
                }
            }
        }

        return implode('|', [
            $host->segment,
            $host->mask,
            $host->gateway,
            $address->isLinkLocal() ? 'own' : '',
            $host->isFurther ? 'further' : '',
            implode(' ', $in),
        ]);
    }
}
