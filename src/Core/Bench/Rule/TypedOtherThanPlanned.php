<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\NearMiss;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Rule\OldProvisioning;

/** A value was typed other than planned; near-miss digits are named as what they are. */
final class TypedOtherThanPlanned implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->slots() as [$device, $slot]) {
            $value = $slot->value;
            if (
                !$value->setDiffers()
                || $slot->setting->found
                || OldProvisioning::GROUP === $slot->setting->group
                || FileAddress::TRUST === $slot->setting->name
                || $device->kind->has(Role::Workstation)
            ) {
                continue;
            }
            // A blank gateway is a mistake of its own, with its own rule.
            if ('gateway' !== $slot->setting->name || '' !== $value->set) {
                yield self::finding($context, $device, $slot);
            }
        }
    }

    private static function finding(RuleContext $context, Device $device, SettingSlot $slot): Finding
    {
        $value = $slot->value;
        $planned = (string) $value->planned;
        $near = NearMiss::of($planned, (string) $value->set);
        $at = [
            'tag' => $device->tag,
            'field' => new Message($slot->label()),
            'set' => $context->display($slot, (string) $value->set),
            'planned' => $context->display($slot, $planned),
            'by' => $value->setBy ?? '?',
        ];

        return new Finding(
            'typed-other-than-planned',
            Severity::Blocks,
            Stage::Bench,
            array_values(array_unique([$device->record(), $slot->ref->record()])),
            null === $near
                ? new Message('{tag}: {field} was set to {set}, but {planned} is planned.', $at)
                : new Message('{tag}: {field} was set to {set}, but {planned} is planned: {near}', $at + [
                    'near' => new Message($near->label()),
                ]),
            SettingScope::Port === $slot->setting->scope
                ? new Message('The device accepts the wrong value and then does not answer at the planned address.')
                : new Message('The device accepts the wrong value, and the fault shows only when something depends on it.'),
            new Message('Set {field} of {tag} to {planned}, and mark the step again.', $at),
            new Change(new Message('{tag}: {field} set to {planned}.', $at), SettingChange::toBeSet($slot->ref, $value, $planned)),
            $slot->local,
        );
    }
}
