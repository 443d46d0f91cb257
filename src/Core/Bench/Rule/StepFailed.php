<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Text\Message;

/** A step was tried and did not work, and nothing was done about it since. */
final class StepFailed implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            foreach ($context->plan->marksOf($device->key) as $code => $mark) {
                $step = $device->kind->step($code);
                if (null === $step || MarkState::Failed !== $mark->state) {
                    continue;
                }
                $at = ['tag' => $device->tag, 'step' => new Message($step->do), 'note' => $mark->note, 'by' => $mark->by];
                yield new Finding(
                    'step-failed',
                    Severity::Blocks,
                    Stage::Bench,
                    [$device->record(), 'marks/'.$mark->key],
                    new Message('{tag}: a step failed ({by}: {note}): {step}', $at),
                    new Message('Later steps depend on it, so the device may not work after installation.'),
                    RunSheet::nextWay($step, $device),
                    about: $code,
                );
            }
        }
    }
}
