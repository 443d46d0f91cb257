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
                    new Message('{tag} holds a value for "{setting}", and a {kind} has no such setting.', $at),
                    new Message('It is on no sheet, in no file and in no comparison.'),
                    new Message('Take it out, or give the kind this setting.'),
                    null === $row ? null : new Change(new Message('{tag}: "{setting}" taken out.', $at), [Edit::remove('settings', $row)]),
                    $ref->slot,
                );
            }
        }
    }
}
