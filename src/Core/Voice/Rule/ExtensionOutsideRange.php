<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Removal;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;

/** An extension lies outside the range of the job, or a factory-made one was left lying. */
final class ExtensionOutsideRange implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->extensions as $extension) {
            $outside = !Numbers::isInRange($context->plan, $extension->number);
            if (!$outside && !$extension->factoryMade) {
                continue;
            }
            $at = [
                'number' => $extension->number,
                'first' => $context->plan->job->text('extensionFirst'),
                'last' => $context->plan->job->text('extensionLast'),
            ];
            $removable = null === $extension->phone;
            yield new Finding(
                'extension-outside-range',
                Severity::Risk,
                Stage::Services,
                ['extensions/'.$extension->key],
                $extension->factoryMade
                    ? new Message('{number} is a default extension of the PBX that was not deleted.', $at)
                    : new Message('{number} is outside the range {first}-{last}.', $at),
                new Message('Unused numbers ring nowhere, conflict with new ones, and can be misused.'),
                $removable ? new Message('Delete {number}.', $at) : new Message('Change {number} to a number in {first}-{last}.', $at),
                $removable ? new Change(new Message('{number} deleted.', $at), [
                    ...Removal::dependents($context->plan, 'extensions', $extension->key),
                    Edit::remove('extensions', $context->plan->row('extensions', $extension->key) ?? []),
                ]) : null,
            );
        }
    }
}
