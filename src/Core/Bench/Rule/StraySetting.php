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

/** The record of a device has a value for a setting that its kind does not have: from an older document, or a typing error in a name. */
final class StraySetting implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            foreach ($context->plan->settings()->strays($device) as $ref) {
                $at = ['tag' => $device->tag, 'setting' => $ref->slot, 'kind' => new Message($device->kind->name)];
                $row = $context->plan->row('settings', (string) $ref);
                yield new Finding(
                    'stray-setting',
                    Severity::Note,
                    Stage::Devices,
                    array_values(array_unique([$device->record(), $ref->record()])),
                    new Message('{tag} has a value for "{setting}", a setting that the kind {kind} does not have.', $at),
                    new Message('The value is not on any run sheet, in any file or in any comparison.'),
                    new Message('Remove the value, or add the setting to the kind.'),
                    null === $row ? null : new Change(new Message(
                        '{tag}: value for "{setting}" removed.',
                        $at,
                    ), [Edit::remove('settings', $row)]),
                    $ref->slot,
                    button: new Message('Remove the value.'),
                );
            }
        }
    }
}
