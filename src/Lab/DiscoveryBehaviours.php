<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;

/** How a device makes itself known on its segment. */
final class DiscoveryBehaviours implements BehaviourSource
{
    public function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): iterable
    {
        if (\in_array('mdns', $standIn->kind->discovery, true)) {
            yield static fn (): Behaviour => new Announcer($simulation->network(), $standIn, $address);
        }
    }
}
