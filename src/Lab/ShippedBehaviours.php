<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;

/** Everything that stand-ins can do. A new behaviour is one more line in one of these sources, or a source of its own. */
final class ShippedBehaviours
{
    /** @return list<BehaviourSource> */
    public static function sources(): array
    {
        return [
            new ServiceBehaviours(),
            new DiscoveryBehaviours(),
            new VoiceBehaviours(),
            new MediaBehaviours(),
        ];
    }

    /** @return list<\Closure(): Behaviour> */
    public static function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): array
    {
        $behaviours = [];
        foreach (self::sources() as $source) {
            foreach ($source->of($simulation, $standIn, $address) as $make) {
                $behaviours[] = $make;
            }
        }

        return $behaviours;
    }
}
