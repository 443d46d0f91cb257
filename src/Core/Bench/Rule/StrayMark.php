<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;

/** A step was marked that the kind of the device no longer has: another version of the kind, or a document from another system. */
final class StrayMark implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            foreach ($context->plan->marksOf($device->key) as $code => $mark) {
                if (null !== $device->kind->step((string) $code)) {
                    continue;
                }
                $at = ['tag' => $device->tag, 'step' => (string) $code, 'kind' => new Message($device->kind->name)];
                $row = $context->plan->row('marks', $mark->key);
                yield new Finding(
                    'stray-mark',
                    Severity::Note,
                    Stage::Bench,
                    [$device->record()],
                    new Message('{tag} has a mark for the step "{step}", which the kind {kind} does not have.', $at),
                    new Message('The mark is not on any run sheet and is not counted.'),
                    new Message('Remove the mark, or add the step to the kind.'),
                    null === $row ? null : new Change(
                        new Message('{tag}: mark for the step "{step}" removed.', $at),
                        [Edit::remove('marks', $row)],
                    ),
                    (string) $code,
                    button: new Message('Remove the mark.'),
                );
            }
        }
    }
}
