<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Dialling\OutsideNumber;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Course;
use Vorhut\Core\Voice\CourseEnd;
use Vorhut\Core\Voice\Switching;

/** An emergency number does not go out from a phone, with or without the outside digit, or goes out as something else. */
final class EmergencyBlocked implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        $country = $plan->job->text('country');
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
            foreach ($plan->job->texts('emergencyNumbers') as $number) {
                foreach (array_unique([$number, $outside.$number]) as $digits) {
                    $course = Switching::of($plan)->dialled($caller, $digits);
                    // What a provider makes of it is asked of the provider: a person does, and writes it down.
                    if (CourseEnd::Provider !== $course->end && (CourseEnd::Outside !== $course->end || $course->sent !== $number)) {
                        yield self::finding($caller, $number, $digits, $course);
                    }
                }
            }
        }
    }

    /** @return list<Extension> one of those whom the routes of their PBX cannot tell apart */
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

    private static function finding(Extension $caller, string $number, string $digits, Course $course): Finding
    {
        $at = [
            'digits' => $digits,
            'number' => $number,
            'caller' => $caller->number,
            'sent' => $course->sent,
            'why' => $course->last()->text,
        ];
        $altered = CourseEnd::Outside === $course->end;

        return new Finding(
            'emergency-blocked',
            Severity::Blocks,
            Stage::Services,
            ['extensions/'.$caller->key, ...(null === $course->route ? [] : ['callRoutes/'.$course->route->key])],
            $altered
                ? new Message('{digits}, dialled by {caller} and those like it, goes out as {sent}: the centre is not rung.', $at)
                : new Message('{digits}, dialled by {caller} and those like it, does not go out: {why}', $at),
            new Message('Somebody in need dials what the body remembers, with or without the outside digit.'),
            new Message(
                'Plan a route before all others that sends {number} by a trunk that takes emergency calls. '
                    .'Local rules and the provider have the last word.',
                $at,
            ),
            null,
            $digits,
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
            new Message('{number} is no emergency number in {country}.', $at),
            new Message('A number that rings nobody is worse than none: somebody counts on it.'),
            new Message('Ask the provider which numbers ring the centre at this site.'),
            null,
            $number,
        );
    }
}
