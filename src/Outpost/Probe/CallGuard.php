<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallBranches;

/** Decides once more, just before a call is made, whether a probe may make it. */
final class CallGuard
{
    /**
     * @return Message|null why a probe does not make the call: on site every branch must end at a device of the job, in the lab none may
     *                      reach an emergency number
     */
    public static function refusal(Plan $plan, Extension $caller, string $digits, bool $isOnSite): ?Message
    {
        $branches = CallBranches::ofCall($plan, $caller, $digits);

        return $isOnSite || $branches->reachesEmergency() ? $branches->reasonForHand() : null;
    }
}
