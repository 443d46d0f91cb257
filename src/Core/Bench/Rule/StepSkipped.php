<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Text\Message;

/** A hook-up or restart was skipped although later steps are marked as done. */
final class StepSkipped implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $marks = $context->plan->marksOf($device->key);
            $skipped = null;
            if ([] !== $marks) {
                foreach ($device->steps as $step) {
                    $mark = $marks[$step->code] ?? null;
                    if (null !== $skipped && true === $mark?->isDone()) {
                        yield self::finding($device, ...$skipped);
                        $skipped = null;
                    }
                    $isGround = $step->does(Effect::Powers) || $step->does(Effect::Restarts);
                    if (MarkState::Skipped === $mark?->state && $isGround) {
                        $skipped = [$step, $mark];
                    }
                }
            }
        }
    }

    private static function finding(Device $device, Step $step, Mark $mark): Finding
    {
        $at = ['tag' => $device->tag, 'step' => new Message($step->do), 'by' => $mark->by];

        return new Finding(
            'step-skipped',
            Severity::Risk,
            Stage::Bench,
            [$device->record(), 'marks/'.$mark->key],
            $step->does(Effect::Powers)
                ? new Message('{tag}: connecting the device was skipped ({by}), but later steps are marked as done: {step}', $at)
                : new Message('{tag}: a restart was skipped ({by}), but later steps are marked as done: {step}', $at),
            $step->does(Effect::Powers)
                ? new Message('The later steps cannot have been done on a device that was not connected.')
                : new Message('Until it restarts, the device may still use the old values.'),
            new Message('Do the step now and mark it as done.'),
            about: $step->code,
        );
    }
}
