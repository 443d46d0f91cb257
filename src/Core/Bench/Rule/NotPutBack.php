<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** Something was changed for the bench and has not been put back. */
final class NotPutBack implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            foreach (RunSheet::of($context->plan, $device)->toPutBack() as $step) {
                yield new Finding(
                    'not-put-back',
                    Severity::Blocks,
                    Stage::Handover,
                    [$device->record()],
                    new Message(
                        '{tag}: a temporary change has not been undone yet: {do}',
                        ['tag' => $device->tag, 'do' => new Message($step->do)],
                    ),
                    new Message('Other devices depend on the original setting and may stop working.'),
                    new Message('Restore the original setting, and mark the step.'),
                    null,
                    $step->code,
                );
            }
        }
    }
}
