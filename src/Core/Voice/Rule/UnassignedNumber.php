<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A number without a device, forward or voicemail: callers hear that it is not available. */
final class UnassignedNumber implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->extensions as $extension) {
            if (
                'sip' !== $extension->terminal || $extension->voicemail || [] !== $plan->ringing($extension)
                || '' !== $extension->forwardAlways.$extension->forwardBusy.$extension->forwardUnanswered || $extension->factoryMade
            ) {
                continue;
            }
            $at = ['number' => $extension->number, 'name' => $extension->name];
            yield new Finding(
                'unassigned-number',
                Severity::Note,
                Stage::Services,
                ['extensions/'.$extension->key],
                new Message('{number} ({name}) has no phone.', $at),
                new Message('Callers get no answer, although the number is in every directory.'),
                new Message('Assign a phone to {number}, forward it, or delete it.', $at),
            );
        }
    }
}
