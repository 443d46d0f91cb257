<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;

/** Some of what stand-ins can do, by what their kind says of them. */
interface BehaviourSource
{
    /**
     * @param Ipv4 $address the address of the site at which the stand-in does it
     *
     * @return iterable<\Closure(): Behaviour> called at each start of the stand-in
     */
    public function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): iterable;
}
