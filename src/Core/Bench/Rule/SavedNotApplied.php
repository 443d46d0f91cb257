<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** Changes were saved but not applied, or applied and the device not restarted. */
final class SavedNotApplied implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->slots() as [$device, $slot]) {
            $value = $slot->value;
            if (null === $value->set || null === $value->seen || $value->set === $value->seen || $slot->setting->found) {
                continue;
            }
            $at = [
                'tag' => $device->tag,
                'field' => new Message($slot->label()),
                'set' => $context->display($slot, $value->set),
                'seen' => $context->display($slot, $value->seen),
            ];
            yield new Finding(
                'saved-not-applied',
                Severity::Blocks,
                Stage::Proof,
                array_values(array_unique([$device->record(), $slot->ref->record()])),
                new Message('{tag}: {field} was set to {set}, but the device reports {seen}.', $at),
                new Message(
                    'A value that was saved but not applied is lost at the next power cut. A value that needs a restart is not active yet.',
                ),
                new Message('Apply the settings, restart {tag}, wait until it is up, and read the value again.', $at),
                null,
                $slot->local,
            );
        }
    }
}
