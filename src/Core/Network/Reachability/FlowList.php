<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Registration;

/** The flows that were found so far, each once, and how one is added: between two devices, or towards and from the outside. */
final class FlowList
{
    /** RTP has no fixed ports (RFC 3550 §11), so a provider may receive audio on any of these. */
    public const ANY_MEDIA = [1024, 65535];
    /** Ports of sound from the first on: two for each call and direction, for as many as a phone system of this size carries. */
    public const MEDIA_PORTS = 1000;

    /** @var array<string, Flow> */
    private array $flows = [];
    /** @var array<int, Device>|null address → the device planned there */
    private ?array $holders = null;

    public function __construct(public readonly Plan $plan)
    {
    }

    /** @return list<Flow> */
    public function all(): array
    {
        return array_values($this->flows);
    }

    /** A service of a device that a device in another segment uses. */
    public function add(string $from, Device $to, Service $service, Message $why): void
    {
        $here = OutpostKey::segment($from) ?? $this->plan->devices[$from]->nic()->segment ?? null;
        $there = $to->nic()?->segment;
        if (null === $here || null === $there || $here === $there || $service->ownSubnetOnly) {
            return;
        }
        $last = 'media' === $service->name ? $service->port->number + self::MEDIA_PORTS - 1 : $service->port->number;
        $this->addFlow(new Flow($from, $to->key, $service->port, $last, $why));
    }

    public function addFlow(Flow $flow): void
    {
        $this->flows[$flow->key()] ??= $flow;
    }

    /** Adds a flow from a device to an address outside the job. */
    public function out(Device $from, Ipv4 $address, Port $port, Message $why, ?int $last = null, bool $isAnywhere = false): void
    {
        if (null !== $from->nic()?->segment) {
            $last ??= $port->number;
            $this->addFlow(new Flow($from->key, Flow::OUTSIDE, $port, $last, $why, $address, isAnywhere: $isAnywhere));
        }
    }

    /** Adds a flow from an address outside the job to a device. */
    public function in(Ipv4 $address, Device $to, Port $port, Message $why, ?int $last = null, bool $isAnywhere = false): void
    {
        if (null !== $to->nic()?->segment) {
            $this->addFlow(new Flow(Flow::OUTSIDE, $to->key, $port, $last ?? $port->number, $why, $address, isAnywhere: $isAnywhere));
        }
    }

    /** Somewhere outside, where a name or a provider leads. */
    public static function elsewhere(): Ipv4
    {
        return Ipv4::fromString(Registration::ELSEWHERE);
    }

    /** The device of the job that is planned to hold an address. */
    public function holder(Ipv4 $address): ?Device
    {
        if (null === $this->holders) {
            $this->holders = [];
            foreach ($this->plan->devices as $device) {
                foreach ($device->activeNics() as $nic) {
                    $held = $nic->plannedAddress();
                    if (null !== $held) {
                        $this->holders[$held->number] ??= $device;
                    }
                }
            }
        }

        return $this->holders[$address->number] ?? null;
    }
}
