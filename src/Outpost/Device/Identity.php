<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Nic;
use Vorhut\Outpost\Probe\NetworkAccess;

/**
 * Whether the device at an address is the right one, before it is sent a password in clear text: by the certificate seen before, or by the
 * MAC for the address in the neighbour table (RFC 826), compared with the roster. In the lab every device is our own.
 */
final readonly class Identity
{
    public function __construct(private NetworkAccess $access, private Ipv4 $address, private Device $device)
    {
    }

    /**
     * If the neighbour table has a MAC for the address, it must be a port of the device: at a factory address any other device of its kind
     * may answer.
     *
     * @throws UnidentifiedDevice
     */
    public function mustNotBeAnother(): void
    {
        $macs = array_filter(array_map(static fn (Nic $nic): ?Mac => $nic->mac, $this->device->nics));
        $holder = $this->access->isOnSite() ? $this->access->holderOf($this->address) : null;
        if (null === $holder || [] === $macs) {
            return;
        }
        foreach ($macs as $mac) {
            if ($holder->equals($mac)) {
                return;
            }
        }

        throw UnidentifiedDevice::withMac($holder, $this->address, $this->device);
    }

    /**
     * @param string|null $certificate as it was seen before, where the handshake holds the present one against it
     *
     * @throws UnidentifiedDevice
     */
    public function mustBeKnown(?string $certificate): void
    {
        if (null !== $certificate || !$this->access->isOnSite()) {
            return;
        }
        $macs = array_filter(array_map(static fn (Nic $nic): ?Mac => $nic->mac, $this->device->nics));
        $holder = $this->access->holderOf($this->address);
        foreach ($macs as $mac) {
            if (true === $holder?->equals($mac)) {
                return;
            }
        }

        throw null === $holder || [] === $macs
            ? UnidentifiedDevice::unknown($this->address, $this->device)
            : UnidentifiedDevice::withMac($holder, $this->address, $this->device);
    }
}
