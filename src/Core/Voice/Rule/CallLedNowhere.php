<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallGraph;

/** A group, a menu, a forward or an inbound route names a number that does not exist, or sends a call in a loop. */
final class CallLedNowhere implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $graph = CallGraph::of($context->plan);
        foreach ($graph->dead as $one) {
            yield new Finding(
                'call-leads-nowhere',
                Severity::Risk,
                Stage::Services,
                [$one['record']],
                new Message(
                    '{from} forwards to {digits}: {why}',
                    ['from' => $one['from'], 'digits' => $one['digits'], 'why' => $one['why']],
                ),
                new Message('The caller is forwarded but gets no answer.'),
                new Message('Enter a number that is answered by a phone.'),
                null,
                $one['digits'],
            );
        }
        foreach ($graph->circles as $circle) {
            yield new Finding(
                'call-led-in-a-circle',
                Severity::Risk,
                Stage::Services,
                array_values(array_unique($circle['records'])),
                new Message('Calls go in a circle: {way}.', ['way' => implode(' → ', $circle['way'])]),
                $circle['outside']
                    ? new Message('Each round goes out by a trunk and in again: it uses two lines and costs money.')
                    : new Message('The call is never answered by a person.'),
                new Message('Forward one of them to a phone that is answered.'),
            );
        }
    }
}
