<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network6;

/** A network port of a device, with its past and planned settings. */
final readonly class Nic
{
    /**
     * @param bool                        $reserved its address comes by DHCP reservation, not typed
     * @param bool                        $pooled   its address comes out of a pool of DHCP, whichever is free
     * @param bool                        $passive  passes another's traffic through and has no address (a phone's PC port)
     * @param list<array{Ipv4, Mask}>     $also     addresses beside its first
     * @param Ipv6|null                   $address6 recorded, not given: devices here are given IPv4
     * @param Settings $settings by slot
     */
    public function __construct(
        public string $key,
        public string $device,
        public string $name,
        public ?Mac $mac,
        public ?string $segment,
        public bool $reserved,
        public bool $pooled,
        public bool $locked,
        public bool $passive,
        public array $also,
        public ?Ipv6 $address6,
        public ?Network6 $network6,
        public ?Ipv6 $gateway6,
        private Settings $settings,
    ) {
    }

    public function record(): string
    {
        return 'nics/'.$this->key;
    }

    public function setting(string $slot): TrackedValue
    {
        return $this->settings->get($slot);
    }

    /** @return array<string, TrackedValue> */
    public function settings(): array
    {
        return $this->settings->all();
    }

    public function plannedAddress(): ?Ipv4
    {
        return Ipv4::tryFromString($this->setting('address')->planned ?? '');
    }

    /** As set, or as planned if not set yet. */
    public function addressAsSet(): ?Ipv4
    {
        return Ipv4::tryFromString($this->setting('address')->effective(Face::Set) ?? '');
    }

    /** An address was set in the device: the allocator does not change it. */
    public function isApplied(): bool
    {
        return null !== $this->setting('address')->set;
    }
}
