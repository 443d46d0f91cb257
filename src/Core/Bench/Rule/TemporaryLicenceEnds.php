<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A temporary licence has no end date, or one before the work on site begins. */
final class TemporaryLicenceEnds implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $begins = $context->plan->job->text('startsOn');
        foreach ($context->plan->records('licences') as $row) {
            $device = $context->plan->devices[$row->text('device')] ?? null;
            $until = $row->text('validUntil');
            $isOver = '' !== $until && '' !== $begins && $until < $begins;
            if (null === $device || !$row->bool('temporary') || ('' !== $until && !$isOver)) {
                continue;
            }
            $at = ['tag' => $device->tag, 'feature' => $row->text('feature'), 'until' => $until, 'begins' => $begins];
            yield new Finding(
                'temporary-licence-ends',
                Severity::Risk,
                Stage::Devices,
                ['licences/'.$row->text('key'), $device->record()],
                $isOver
                    ? new Message('The temporary licence {feature} of {tag} ends on {until}; work on site begins on {begins}.', $at)
                    : new Message('The temporary licence {feature} of {tag} has no end date.', $at),
                new Message('When it ends, the feature stops without notice.'),
                new Message('Enter the end date, and order the permanent licence in time.'),
            );
        }
    }
}
