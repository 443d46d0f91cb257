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
                        '{tag}: a temporary change was not restored yet: {do}',
                        ['tag' => $device->tag, 'do' => new Message($step->do)],
                    ),
                    new Message('Others were there before; what they had stops working, or works by chance.'),
                    new Message('Put it back, and mark the step.'),
                    null,
                    $step->code,
                );
            }
        }
    }
}
