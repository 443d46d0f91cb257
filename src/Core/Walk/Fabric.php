<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Segment;

/**
 * The network as it is and what every host on it was told, for one face of the plan; indexed once, asked by every walk.
 */
final class Fabric
{
    /** @var array<string, Host> by ref */
    private array $hosts = [];
    /** @var array<string, array<int, list<Host>>> segment → address → hosts that hold it */
    private array $holders = [];
    /** @var array<string, list<Host>> device key → hosts */
    private array $ofDevice = [];
    /** @var array<string, list<RouterPort>> router → ports */
    private array $ports = [];

    private function __construct(public readonly Plan $plan, public readonly Face $face)
    {
        foreach ($plan->routerPorts as $port) {
            $router = $plan->devices[$port->router] ?? null;
            $this->ports[$port->router][] = $port;
            $this->put(new Host('routerPorts/'.$port->key, $router->tag ?? $port->router, $port->router, $port->segment, $port->address, $port->mask, null, true));
        }
        foreach ($plan->nics as $nic) {
            if (!$nic->passive && !isset($this->ports[$nic->device])) {
                $this->put($this->asTold($nic));
            }
        }
        foreach ($plan->segments as $segment) {
            $address = $segment->outpost ?? FreeAddress::forOutpost($plan, $segment);
            $gateway = null === $segment->gateway ? '' : (string) $segment->gateway;
            if (null !== $address) {
                $this->put(new Host('outposts/'.$segment->key, 'Outpost', null, $segment->key, $address, $segment->network->mask, $gateway));
            }
        }
    }

    public static function of(Plan $plan, Face $face): self
    {
        return new self($plan, $face);
    }

    public function host(string $ref): ?Host
    {
        return $this->hosts[$ref] ?? null;
    }

    public function outpost(string $segment): ?Host
    {
        return $this->hosts['outposts/'.$segment] ?? null;
    }

    /** @return list<Host> */
    public function hostsOf(string $device): array
    {
        return $this->ofDevice[$device] ?? [];
    }

    /** @return list<Host> everyone on the wire who would answer an ARP question for the address */
    public function holders(string $segment, Ipv4 $address): array
    {
        return $this->holders[$segment][$address->number] ?? [];
    }

    /** @return list<RouterPort> */
    public function ports(string $router): array
    {
        return $this->ports[$router] ?? [];
    }

    public function portOn(string $segment): ?RouterPort
    {
        foreach ($this->plan->routerPorts as $port) {
            if ($port->segment === $segment) {
                return $port;
            }
        }

        return null;
    }

    public function segment(string $key): ?Segment
    {
        return $this->plan->segments[$key] ?? null;
    }

    public function segmentName(string $key): string
    {
        return $this->plan->segments[$key]->name ?? $key;
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
            $this->holders[$host->segment][$host->address->number][] = $host;
        }
    }

    private function asTold(Nic $nic): Host
    {
        $device = $this->plan->devices[$nic->device] ?? null;
        $several = \count(array_filter($device->nics ?? [], static fn (Nic $one): bool => !$one->passive)) > 1;

        return new Host(
            'nics/'.$nic->key,
            ($device->tag ?? $nic->device).($several ? ' '.$nic->name : ''),
            $nic->device,
            $nic->segment ?? '',
            Ipv4::tryFromString($nic->address->asOf($this->face) ?? ''),
            Mask::tryFromString($nic->mask->asOf($this->face) ?? ''),
            $nic->gateway->asOf($this->face),
        );
    }
}
