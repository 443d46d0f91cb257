<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\StaticRoute;
use Vorhut\Core\Plan\StaticRoute6;
use Vorhut\Core\Plan\Translation;
use Vorhut\Core\Plan\TranslationKind;
use Vorhut\Core\Text\Message;

/** The network as it is and what every host on it was told, for one face of the plan; indexed once, asked by every walk. */
final class NetworkModel
{
    private const REMEMBERED = 256;

    /** @var array<string, Host> by ref */
    private array $hosts = [];
    /** @var array<string, array<array-key, list<Host>>> segment → address → hosts that hold it */
    private array $holders = [];
    /** @var array<string, list<Host>> device key → hosts */
    private array $ofDevice = [];
    /** @var array<string, list<RouterPort>> router → ports */
    private array $ports = [];

    /** @var array<string, RoutingTable> */
    private array $tables = [];
    /** @var array<string, list<StaticRoute|StaticRoute6>>|null router → routes */
    private ?array $routes = null;
    /** @var array<string, array<string, list<FilterRule>>> router → pair of segments → rules that may match, by position */
    private array $rules = [];
    /** @var array<string, list<FilterRule>>|null router → rules */
    private ?array $rulesOf = null;
    /** @var array<string, list<Translation>>|null router → translations */
    private ?array $translations = null;
    /** @var array<string, list<RouterPort>>|null segment → ports that answer for others */
    private ?array $proxies = null;
    /** @var array<string, Walk> the last ones: many tests go part of the way together */
    private array $walks = [];

    private ?WirelessAccess $wireless = null;

    /** How many walks were really gone: what an answer costs is counted by it. */
    public int $walked = 0;

    /** @param bool $boxed every device has its factory settings only */
    private function __construct(
        public readonly Plan $plan,
        public readonly Face $face,
        private readonly bool $boxed,
        public readonly IpVersion $version = IpVersion::Four,
        ?self $like = null,
    ) {
        if (null !== $like) {
            // The same addresses: only the routers treat packets differently.
            $this->hosts = $like->hosts;
            $this->holders = $like->holders;
            $this->ofDevice = $like->ofDevice;
            $this->ports = $like->ports;

            return;
        }
        if (IpVersion::Six === $version) {
            $this->addRecordedHosts();

            return;
        }
        foreach ($plan->routerPorts as $port) {
            $router = $plan->devices[$port->router] ?? null;
            $this->ports[$port->router][] = $port;
            $this->put(new Host(
                'routerPorts/'.$port->key,
                $router->tag ?? $port->router,
                $port->router,
                $port->segment,
                $port->address,
                $port->mask,
                null,
                true,
            ));
        }
        foreach ($plan->translations as $rule) {
            $this->holdOutside($rule);
        }
        $pooled = [];
        foreach ($plan->nics as $nic) {
            if (!$nic->passive && !isset($this->ports[$nic->device])) {
                $host = $this->asTold($nic, $pooled);
                $this->put($host);
                if (!$boxed) {
                    foreach ($nic->also as [$address, $mask]) {
                        $this->put($host->also($address, $mask));
                    }
                }
            }
        }
        foreach ($plan->segments as $segment) {
            $address = $segment->outpost ?? FreeAddress::forOutpost($plan, $segment);
            $gateway = null === $segment->gateway ? '' : (string) $segment->gateway;
            if (null !== $address) {
                $this->put(new Host(
                    OutpostKey::on($segment->key),
                    new Message('Outpost'),
                    null,
                    $segment->key,
                    $address,
                    $segment->network->mask,
                    $gateway,
                ));
            }
        }
    }

    /**
     * The address of a DHCP client: from a pool, or self-assigned without a server (RFC 3927).
     *
     * @param array<string, int> $pooled
     *
     * @return array{address: string, mask: string, gateway: string}|null null where it holds what it was told
     */
    private function addressOfItsOwn(Nic $nic, Segment $segment, array &$pooled): ?array
    {
        if (!$nic->pooled && (!$nic->reserved || $segment->dhcp)) {
            return null;
        }
        $pool = $segment->dhcp ? $segment->pools[0] ?? null : null;
        $n = $pooled[$segment->key] = ($pooled[$segment->key] ?? -1) + 1;
        if (null !== $pool && $n < $pool->count()) {
            return [
                'address' => (string) $pool->first->plus($n),
                'mask' => (string) $segment->network->mask,
                'gateway' => $segment->dhcpValue('gateway') ?? '',
            ];
        }

        // 169.254.1.0 to 169.254.254.255, each another: that two make the same is what they look for themselves.
        return ['address' => (string) Ipv4::fromNumber(0xA9FE0100 + $n % 0xFE00), 'mask' => '/16', 'gateway' => ''];
    }

    public static function of(Plan $plan, Face $face): self
    {
        return new self($plan, $face, false);
    }

    /** The same network for IPv6 packets: recorded addresses only, without leases (RFC 4291, RFC 4861). */
    public static function ofVersion6(Plan $plan, Face $face): self
    {
        return new self($plan, $face, false, IpVersion::Six);
    }

    private function addRecordedHosts(): void
    {
        foreach ($this->plan->routerPorts as $port) {
            $this->ports[$port->router][] = $port;
            if (null === $port->address6) {
                continue;
            }
            $tag = $this->plan->devices[$port->router]->tag ?? $port->router;
            $ref = 'routerPorts/'.$port->key;
            $host = new Host($ref, $tag, $port->router, $port->segment, $port->address6, $port->network6, null, true);
            $this->put($host);
            if (null !== $port->local6) {
                $this->holders[$port->segment][$port->local6->key()][] = $host->also($port->local6, null);
            }
        }
        foreach ($this->plan->nics as $nic) {
            if (!$nic->passive && null !== $nic->address6 && !isset($this->ports[$nic->device])) {
                $device = $this->plan->devices[$nic->device] ?? null;
                $name = ($device->tag ?? $nic->device).(true === $device?->isOnSeveralSegments() ? ' '.$nic->name : '');
                $gateway = (string) $nic->gateway6;
                $this->put(new Host($nic->record(), $name, $nic->device, (string) $nic->segment, $nic->address6, $nic->network6, $gateway));
            }
        }
    }

    /** As the devices arrive at the bench, each at its factory address or the one on its label: which devices would hear which. */
    public static function outOfTheBox(Plan $plan): self
    {
        return new self($plan, Face::Planned, true);
    }

    public function host(string $ref): ?Host
    {
        return $this->hosts[$ref] ?? null;
    }

    public function outpost(string $segment): ?Host
    {
        return $this->hosts[OutpostKey::on($segment)] ?? null;
    }

    /** @return list<Host> */
    public function hostsOf(string $device): array
    {
        return $this->ofDevice[$device] ?? [];
    }

    /** @return list<Host> every host in the segment that would answer an ARP request for the address */
    public function holders(string $segment, Address $address): array
    {
        return $this->holders[$segment][$address->key()] ?? $this->nearestRouter($segment, $address);
    }

    /** @return list<Host> one router of an IPv6 network, where the address is the one that all of them hold (RFC 4291 §2.6.1) */
    private function nearestRouter(string $segment, Address $address): array
    {
        if (IpVersion::Six !== $this->version || !$address instanceof Ipv6) {
            return [];
        }
        foreach ($this->plan->routerPortsOn($segment) as $port) {
            $network = $port->networkOf(IpVersion::Six);
            $router = $this->host('routerPorts/'.$port->key);
            if (null !== $router && $network instanceof Network6 && $network->isOfItsRouters($address)) {
                return [$router];
            }
        }

        return [];
    }

    /** @return list<Host> everyone who holds the address, on whatever wire */
    public function allHolders(Address $address): array
    {
        $all = [];
        foreach ($this->holders as $there) {
            foreach ($there[$address->key()] ?? [] as $host) {
                $all[] = $host;
            }
        }

        return $all;
    }

    /** The network as it would be; where only one host is told something else, all the rest of it is this one's. */
    public function mendedBy(Remedy $remedy): self
    {
        $after = $remedy->after;
        $before = null === $after ? null : $this->host($after->ref);
        if (null === $after || null === $before || null === $after->device) {
            $like = $remedy->change->isWithin(Plan::LIGHT) ? $this : null;

            return new self($this->plan->with($remedy->change), $this->face, $this->boxed, $this->version, $like);
        }
        $model = clone $this;
        $model->walks = [];
        $model->wireless = null;
        $isOther = static fn (Host $host): bool => $host !== $before;
        $model->ofDevice[$after->device] = array_values(array_filter($this->hostsOf($after->device), $isOther));
        if (null !== $before->address) {
            $model->holders[$before->segment][$before->address->key()] = array_values(array_filter(
                $this->holders($before->segment, $before->address),
                $isOther,
            ));
        }
        $model->put($after);

        return $model;
    }

    /** @return list<RouterPort> */
    public function ports(string $router): array
    {
        return $this->ports[$router] ?? [];
    }

    public function portOn(string $segment): ?RouterPort
    {
        return $this->plan->routerPortsOn($segment)[0] ?? null;
    }

    public function routingTable(string $router): RoutingTable
    {
        if (null === $this->routes) {
            $this->routes = [];
            foreach (IpVersion::Six === $this->version ? $this->plan->routes6 : $this->plan->routes as $route) {
                $this->routes[$route->router][] = $route;
            }
        }

        return $this->tables[$router] ??= new RoutingTable($this->ports($router), $this->routes[$router] ?? [], $this->version);
    }

    /** @return list<FilterRule> those of a router that look at packets from one segment to another, by position */
    public function rulesBetween(string $router, string $from, string $to): array
    {
        if (null === $this->rulesOf) {
            $this->rulesOf = [];
            foreach ($this->plan->filters as $rule) {
                $this->rulesOf[$rule->router][] = $rule;
            }
        }

        return $this->rules[$router][$from.'>'.$to] ??= array_values(array_filter(
            $this->rulesOf[$router] ?? [],
            static fn (FilterRule $rule): bool => \in_array($rule->from, [null, $from], true) && \in_array($rule->to, [null, $to], true),
        ));
    }

    /**
     * A walk over this very network, gone once while it is among the last ones asked for.
     *
     * @param \Closure(): Walk $walk
     */
    public function cachedWalk(string $way, \Closure $walk): Walk
    {
        if (isset($this->walks[$way])) {
            return $this->walks[$way];
        }
        if (\count($this->walks) >= self::REMEMBERED) {
            $this->walks = [];
        }
        ++$this->walked;

        return $this->walks[$way] = $walk();
    }

    /** @return list<Translation> of a router, by position */
    public function translationsAt(string $router): array
    {
        if (null === $this->translations) {
            $this->translations = [];
            // IPv6 has neither translation nor proxy answers here.
            if (IpVersion::Six !== $this->version) {
                foreach ($this->plan->translations as $rule) {
                    $this->translations[$rule->router][] = $rule;
                }
            }
        }

        return $this->translations[$router] ?? [];
    }

    /** @return list<RouterPort> those of a segment that answer ARP for others */
    public function proxiesOn(string $segment): array
    {
        if (null === $this->proxies) {
            $this->proxies = [];
            foreach ($this->plan->routerPorts as $port) {
                if ($port->proxyArp && IpVersion::Four === $this->version) {
                    $this->proxies[$port->segment][] = $port;
                }
            }
        }

        return $this->proxies[$segment] ?? [];
    }

    /**
     * Where else a device can be asked: its further addresses, and those outside that a translation leads to it, with their port there.
     *
     * @return list<array{Address, Port|null}>
     */
    public function otherAddressesOf(string $device, ?Port $port): array
    {
        $found = [];
        foreach ($this->hostsOf($device) as $host) {
            if ($host->isFurther && null !== $host->address) {
                $found[] = [$host->address, $port];
            }
        }
        if (IpVersion::Six !== $this->version) {
            foreach ($this->plan->translations as $rule) {
                if (TranslationKind::Source === $rule->what || null === $rule->inside) {
                    continue;
                }
                foreach ($this->hostsOf($device) as $host) {
                    if (true !== $host->address?->equals($rule->inside)) {
                        continue;
                    }
                    $outside = (new Translator([$rule], $this->ports($rule->router)))->outsideOf($rule);
                    $number = match (true) {
                        null === $port => null,
                        TranslationKind::Static === $rule->what => $port->number,
                        default => $rule->outsidePortOf($port),
                    };
                    if (null !== $outside && (null === $port || null !== $number)) {
                        $found[] = [$outside, null === $port ? null : Port::of($port->transport, (int) $number)];
                    }
                }
            }
        }

        return $found;
    }

    /** Why Wi-Fi rejects a device; null if it does not. The bench has no authentication. */
    public function refusal(?string $device): ?Refusal
    {
        return $this->boxed || null === $device ? null : ($this->wireless ??= new WirelessAccess($this))->refusal($device);
    }

    public function segment(string $key): ?Segment
    {
        return $this->plan->segments[$key] ?? null;
    }

    public function segmentName(string $key): string
    {
        return $this->plan->segmentName($key);
    }

    public function device(?string $key): ?Device
    {
        return $this->plan->devices[$key ?? ''] ?? null;
    }

    private function put(Host $host): void
    {
        $this->hosts[$host->ref] = $host;
        if (null !== $host->device) {
            $this->ofDevice[$host->device][] = $host;
        }
        if (null !== $host->address) {
            $this->holders[$host->segment][$host->address->key()][] = $host;
        }
    }

    /** A router answers on a wire for the outside addresses that it translates, beside its own. */
    private function holdOutside(Translation $rule): void
    {
        $address = $rule->address;
        if (null === $address || !isset($this->ports[$rule->router])) {
            return;
        }
        foreach ($this->ports[$rule->router] as $port) {
            if ($port->segment === $rule->outside) {
                $mine = array_filter(
                    $this->holders($rule->outside, $address),
                    static fn (Host $host): bool => $host->device === $rule->router,
                );
                if ([] === $mine) {
                    $this->holders[$rule->outside][$address->key()][] = $this->hosts['routerPorts/'.$port->key];
                }

                return;
            }
        }
    }

    /** @param array<string, int> $pooled segment → how many of its pool are taken: who gets which is chance, that each gets one is not */
    private function asTold(Nic $nic, array &$pooled): Host
    {
        $device = $this->plan->devices[$nic->device] ?? null;
        $several = true === $device?->isOnSeveralSegments();
        $face = $this->face;

        $factory = $this->boxed && true !== $device?->kind->has(Role::Workstation) ? $device->factory ?? null : null;
        $segment = $this->plan->segments[$nic->segment ?? ''] ?? null;
        $given = $this->boxed || null === $segment ? null : $this->addressOfItsOwn($nic, $segment, $pooled);
        $told = static fn (string $name): ?string => $given[$name] ?? $nic->setting($name)->effective($face);

        return new Host(
            $nic->record(),
            ($device->tag ?? $nic->device).($several ? ' '.$nic->name : ''),
            $nic->device,
            $nic->segment ?? '',
            null === $factory ? Ipv4::tryFromString($told('address') ?? '') : $factory->address,
            null === $factory ? Mask::tryFromString($told('mask') ?? '') : $factory->mask,
            null === $factory ? $told('gateway') : '',
        );
    }
}
