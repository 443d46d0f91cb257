<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;

/** The segments of an outpost, and the addresses it may contact: only those in networks that the job declares. */
final readonly class VantagePoint
{
    public Ipv4 $address;

    public function __construct(private Plan $plan, public string $outpost, public Adapter $adapter)
    {
        $this->address = $adapter->address;
    }

    public function mayAsk(Ipv4 $address): bool
    {
        $network = $this->plan->segmentAround($address)?->network;

        // Its two edge addresses cannot be hosts (RFC 1122 §3.2.1.3): one is the network itself, and the other is the broadcast address.
        return null !== $network && !$network->isEdge($address);
    }
}
