<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Plan\Plan;

/**
 * What a job needs of the network between segments and towards the outside: from the plan alone, each with the reason why. Rules, findings,
 * reachability and the administrator's sheet all go by this list.
 */
final class RequiredFlows
{
    /** @return list<Flow> only those that leave a segment */
    public static function of(Plan $plan): array
    {
        $flows = new FlowList($plan);
        foreach ([new DeviceFlows($flows), new MediaFlows($flows), new CallFlows($flows), new TestFlows($flows)] as $source) {
            $source->collect();
        }

        return $flows->all();
    }
}
