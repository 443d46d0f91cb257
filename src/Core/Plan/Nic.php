<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;

/** A network interface of a device, with what it was and is to be told. */
final readonly class Nic
{
    /**
     * @param bool  $reserved its address comes by DHCP reservation, not typed
     * @param bool  $passive  passes another's traffic through and has no address (a phone's PC port)
     * @param Faced $mask     as /24
     */
    public function __construct(
        public string $key,
        public string $device,
        public string $name,
        public ?Mac $mac,
        public ?string $segment,
        public bool $reserved,
        public bool $locked,
        public bool $passive,
        public Faced $address,
        public Faced $mask,
        public Faced $gateway,
        public Faced $dns,
    ) {
    }

    public function value(string $field): Faced
    {
        return match ($field) {
            'address' => $this->address,
            'mask' => $this->mask,
            'gateway' => $this->gateway,
            'dns' => $this->dns,
            default => new Faced(),
        };
    }

    public function plannedAddress(): ?Ipv4
    {
        return Ipv4::tryFromString($this->address->planned ?? '');
    }

    /** Somebody has put an address into it: the allocator leaves it where it is. */
    public function isApplied(): bool
    {
        return null !== $this->address->set;
    }
}
