<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Reachability;

use Vorhut\Core\Plan\Plan;

/**
 * The flows that a job requires between segments and to the outside: from the plan only, each with its reason. Rules, findings,
 * reachability and the administrator's sheet all use this list.
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
