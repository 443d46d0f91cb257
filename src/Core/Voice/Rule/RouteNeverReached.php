<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\CallRoute;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Dialling\TimeFrame;

/** The first of two routes matches every number of the second, or some of them by its order only. */
final class RouteNeverReached implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->callRoutes as $i => $later) {
            $told = false;
            foreach (\array_slice($plan->callRoutes, 0, $i) as $earlier) {
                if (
                    $told || $earlier->pbx !== $later->pbx || !self::takesAllCallers($plan, $earlier, $later)
                    || self::leavesEmergencies($plan, $earlier, $later)
                ) {
                    continue;
                }
                $example = $earlier->map->common($later->map);
                if (null === $example) {
                    continue;
                }
                $hidden = $earlier->map->shadows($later->map);
                $told = $hidden;
                if ($hidden || (!$later->map->shadows($earlier->map) && $earlier->trunks !== $later->trunks)) {
                    yield self::finding($earlier, $later, $example, $hidden);
                }
            }
        }
    }

    /** Whether the earlier one is there whenever, and for whomever, the later one is. */
    private static function takesAllCallers(Plan $plan, CallRoute $earlier, CallRoute $later): bool
    {
        $when = static fn (CallRoute $route): ?TimeFrame => $plan->timeFrames[$route->timeFrame ?? '']->when ?? null;
        $always = $when($earlier);
        $then = $when($later);
        $rank = ['' => 0, 'national' => 1, 'international' => 2];

        return (null === $always || (null !== $then && $always->covers($then)))
            && (null === $earlier->callers || (null !== $later->callers && $earlier->callers->shadows($later->callers)))
            && ($rank[$earlier->needs] ?? 0) <= ($rank[$later->needs] ?? 0);
    }

    /** An emergency call skips a route without a usable trunk: it reaches the later one whatever precedes it. */
    private static function leavesEmergencies(Plan $plan, CallRoute $earlier, CallRoute $later): bool
    {
        $takes = static fn (CallRoute $route): bool => [] !== array_filter(
            $route->trunks,
            static fn (string $trunk): bool => true === ($plan->trunks[$trunk] ?? null)?->emergency,
        );
        if (!$takes($earlier) && $takes($later)) {
            foreach ($plan->emergencyNumbers()->all() as $digits) {
                if ('full' === $later->map->match($digits)) {
                    return true;
                }
            }
        }

        return false;
    }

    private static function finding(CallRoute $earlier, CallRoute $later, string $example, bool $hidden): Finding
    {
        $at = [
            'later' => $later->name,
            'map' => (string) $later->map,
            'earlier' => $earlier->name,
            'first' => (string) $earlier->map,
            'digits' => $example,
        ];
        $key = static fn (CallRoute $route): string => 'callRoutes/'.$route->key;

        return $hidden ? new Finding(
            'route-never-reached',
            Severity::Risk,
            Stage::Services,
            [$key($later), $key($earlier)],
            new Message('The route {later} ({map}) is never used: {earlier} ({first}) comes before it and matches the same calls.', $at),
            new Message('A call to {digits}, for example, always uses {earlier}.', $at),
            new Message('Move {later} before {earlier}.', $at),
            new Change(new Message('{later} moved before {earlier}.', $at), $later->position === $earlier->position ? [
                Edit::put('callRoutes', $later->key, 'position', $later->position, max(1, $earlier->position - 1)),
            ] : [
                Edit::put('callRoutes', $later->key, 'position', $later->position, $earlier->position),
                Edit::put('callRoutes', $earlier->key, 'position', $earlier->position, $later->position),
            ]),
        ) : new Finding(
            'routes-overlap',
            Severity::Note,
            Stage::Services,
            [$key($later), $key($earlier)],
            new Message('{digits} matches both {earlier} ({first}) and {later} ({map}): only their order decides.', $at),
            new Message('Changing the order changes the trunk that is used.'),
            new Message('Change the patterns so that only one matches, or keep the order.'),
        );
    }
}
