<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** Whether the packet came from a device of the plan. */
final readonly class SenderLookup
{
    public function __construct(private NetworkAccess $access)
    {
    }

    /** The device at a source address, by tag if the plan knows one, and the address as used on site. */
    public function name(Plan $plan, Ipv4 $from): string
    {
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                $address = $nic->addressAsSet();
                if (null !== $address && $this->access->seenAs($address)->equals($from)) {
                    return $device->tag.' '.$address;
                }
            }
        }

        return (string) $from;
    }

    public function isAt(?Device $device, Ipv4 $from): bool
    {
        foreach ($device->nics ?? [] as $nic) {
            $address = $nic->addressAsSet();
            if (null !== $address && $this->access->seenAs($address)->equals($from)) {
                return true;
            }
        }

        return false;
    }
}
