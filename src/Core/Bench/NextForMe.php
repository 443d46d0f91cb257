<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** The best next task for one person at the bench: the first of the remaining order that no other person works on. */
final readonly class NextForMe
{
    /** Seconds after its last mark for which a device counts as being worked on. */
    private const IN_HAND = 300;

    /** @param int $in seconds until it can be begun; 0 for at once */
    private function __construct(public Device $device, public Step $step, public int $in)
    {
    }

    public static function of(Plan $plan, Stop $stop, string $me, int $now): ?self
    {
        $seen = [];
        foreach ($stop->remaining($now)->slots as $slot) {
            if (isset($seen[$slot['device']])) {
                continue;
            }
            $seen[$slot['device']] = true;
            $device = $plan->devices[$slot['device']];
            $step = $device->kind->step($slot['step']);
            $last = RunSheet::of($plan, $device)->lastHand();
            $isTaken = null !== $last && $last->by !== $me && (int) strtotime($last->at) > $now - self::IN_HAND;
            if (null !== $step && !$isTaken) {
                $ready = max(0, RunSheet::of($plan, $device)->waitsUntil() - $now);

                return new self($device, $step, $ready);
            }
        }

        return null;
    }
}
