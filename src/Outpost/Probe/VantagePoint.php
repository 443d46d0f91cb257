<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;

/** Where an outpost stands on a segment, and what it may ask: only addresses in networks that the job declares. */
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

        // At its two edges no host can be (RFC 1122 §3.2.1.3): one is the wire itself, and at the other everybody would have to answer.
        return null !== $network && !$network->isEdge($address);
    }
}
