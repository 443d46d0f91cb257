<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallRouting;
use Vorhut\Core\Voice\CallRoutingEnd;
use Vorhut\Core\Voice\Dialling\OutsideNumber;
use Vorhut\Core\Voice\Switching;

/** A phone cannot ring an emergency centre at every hour, with or without the outside-line prefix; or the numbers are not known. */
final class EmergencyBlocked implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $country = $plan->job->text('country');
        $numbers = $plan->emergencyNumbers()->numbers;
        if ([] === $numbers && [] !== self::callers($plan)) {
            yield self::unknown();
        }
        foreach ($plan->job->texts('emergencyNumbers') as $number) {
            if (false === OutsideNumber::isEmergency($number, $country)) {
                yield self::foreign($number, $country);
            }
        }
        // A job whose calls outside are not planned yet has nothing to be judged by.
        if ([] === $plan->trunks || [] === $plan->callRoutes) {
            return;
        }
        $outside = $plan->job->text('outsideDigit');
        foreach (self::callers($plan) as $caller) {
            foreach ($numbers as $number) {
                foreach (array_unique([$number, $outside.$number]) as $digits) {
                    yield from self::check($plan, $caller, $number, $digits);
                }
            }
        }
    }

    /** @return iterable<Finding> the first hour at which the digits do not ring the centre */
    private static function check(Plan $plan, Extension $caller, string $number, string $digits): iterable
    {
        foreach (self::hours($plan, $caller, $digits) as $at => $hour) {
            $routing = Switching::of($plan)->dial($caller, $digits, $at);
            // The provider's treatment of it is checked with the provider: a person asks and records the answer.
            if (CallRoutingEnd::Provider !== $routing->end && (CallRoutingEnd::Outside !== $routing->end || $routing->sent !== $number)) {
                yield self::finding($caller, $number, $digits, $routing, $hour);

                return;
            }
        }
    }

    /**
     * @return array<string, string> wall times between which no route begins or ceases to take the digits → how a person writes it; one
     *     empty time where no time frame matters
     */
    private static function hours(Plan $plan, Extension $caller, string $digits): array
    {
        $hours = [];
        foreach ($plan->callRoutes as $route) {
            $frame = $plan->timeFrames[$route->timeFrame ?? '']->when ?? null;
            if (null === $frame || $route->pbx !== $caller->pbx || 'full' !== $route->map->match($digits)) {
                continue;
            }
            foreach ($frame->boundaries() as $at) {
                $hours[$at] ??= $frame->nameOf($at);
            }
        }

        return [] === $hours ? ['' => ''] : $hours;
    }

    /** @return list<Extension> one of each set that the routes of their PBX cannot tell apart */
    private static function callers(Plan $plan): array
    {
        $callers = [];
        foreach ($plan->extensions as $extension) {
            if (null === $extension->phone && 'analogue' !== $extension->terminal) {
                continue;
            }
            $sort = $extension->pbx.' ';
            foreach ($plan->callRoutes as $route) {
                $sort .= null === $route->callers ? '' : $route->callers->match($extension->number);
            }
            $callers[$sort] ??= $extension;
        }

        return array_values($callers);
    }

    private static function finding(Extension $caller, string $number, string $digits, CallRouting $routing, string $hour): Finding
    {
        $at = [
            'digits' => $digits,
            'number' => $number,
            'caller' => $caller->number,
            'sent' => $routing->sent,
            'why' => $routing->last()->text,
            'hour' => $hour,
        ];
        $altered = CallRoutingEnd::Outside === $routing->end;

        return new Finding(
            'emergency-blocked',
            Severity::Blocks,
            Stage::Services,
            ['extensions/'.$caller->key, ...(null === $routing->route ? [] : ['callRoutes/'.$routing->route->key])],
            match (true) {
                $altered => new Message(
                    '{digits}, dialled by {caller} and phones like it, goes out as {sent} and does not reach the emergency centre.',
                    $at,
                ),
                '' === $hour => new Message(
                    '{digits}, dialled by {caller} and phones like it, does not reach the emergency centre: {why}',
                    $at,
                ),
                default => new Message(
                    '{digits}, dialled by {caller} and phones like it at {hour}, does not reach the emergency centre: {why}',
                    $at,
                ),
            },
            new Message('People in an emergency dial the number they know, with or without the outside-line prefix, at any hour.'),
            '' === $hour || $altered
                ? new Message(
                    'Add a route before all others that sends {number} to a trunk for emergency calls. '
                        .'Local rules and the provider decide.',
                    $at,
                )
                : new Message(
                    'Remove the time frame from the emergency route. Local rules and the provider decide.',
                    $at,
                ),
            null,
            $digits,
        );
    }

    private static function unknown(): Finding
    {
        return new Finding(
            'emergency-numbers-unknown',
            Severity::Blocks,
            Stage::Brief,
            ['job'],
            new Message('The emergency numbers of the site are not known.'),
            new Message('Without them no emergency route can be checked, and Vorhut cannot tell which calls must never be made.'),
            new Message('Set the country in Brief, or enter the emergency numbers.'),
        );
    }

    private static function foreign(string $number, string $country): Finding
    {
        $at = ['number' => $number, 'country' => strtoupper($country)];

        return new Finding(
            'emergency-number-foreign',
            Severity::Risk,
            Stage::Services,
            ['job'],
            new Message('{number} is not an emergency number in {country}.', $at),
            new Message('Users rely on an emergency number that does not work.'),
            new Message('Ask the provider which numbers reach the emergency centre from this site.'),
            null,
            $number,
        );
    }
}
