<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\RouterPort;

/** How routers hang together: by the segments that they share. */
final class Topology
{
    /** The port of the neighbour through which another router is nearest: breadth first; null where no way leads there. */
    public static function nextHop(NetworkModel $model, string $from, string $goal): ?RouterPort
    {
        $first = [];
        $seen = [$from => true];
        $queue = [$from];
        while ([] !== $queue) {
            $here = array_shift($queue);
            foreach ($model->ports($here) as $port) {
                foreach ($model->plan->routerPortsOn($port->segment) as $neighbour) {
                    if (isset($seen[$neighbour->router]) || !$port->network->contains($neighbour->address)) {
                        continue;
                    }
                    $seen[$neighbour->router] = true;
                    $first[$neighbour->router] = $first[$here] ?? $neighbour;
                    if ($neighbour->router === $goal) {
                        return $first[$goal];
                    }
                    $queue[] = $neighbour->router;
                }
            }
        }

        return null;
    }
}
