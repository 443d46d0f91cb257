<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Catalogue\ModuleSlots;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** The modules in the slots give another number of sockets than is planned with. */
final class ModulesMiscounted implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $slots = $device->kind->modules;
            $modules = null === $slots ? [] : self::modules($device, $slots);
            // The modules in the slots are not set yet.
            if (null === $slots || [] === array_filter($modules, static fn (string $one): bool => [] !== ($slots->gives[$one] ?? []))) {
                continue;
            }
            foreach ($slots->counts as $name => $what) {
                $slot = $context->plan->settings()->slot($device, $name);
                $given = (string) $slots->count($what, $modules);
                if (null === $slot || ($slot->value->planned ?? '0') === $given) {
                    continue;
                }
                $at = [
                    'tag' => $device->tag,
                    'setting' => new Message($slot->setting->label),
                    'planned' => $slot->value->planned ?? '0',
                    'given' => $given,
                ];
                yield new Finding(
                    'modules-miscounted',
                    Severity::Risk,
                    Stage::Devices,
                    [$device->record()],
                    new Message('{tag}: {setting} is planned as {planned}, but its modules provide {given}.', $at),
                    new Message('The module in a slot decides what its sockets are.'),
                    new Message('Plan {given} as {setting} of {tag}, or order another module.', $at),
                    new Change(new Message('{tag}: {setting} set to {given}.', $at), [
                        Edit::setting($slot->ref, Face::Planned, $slot->value->inherited ? null : $slot->value->planned, $given),
                    ]),
                    $name,
                    button: new Message('Set {setting} of {tag} to {given}.', $at),
                );
            }
        }
    }

    /** @return list<string> the module in each slot */
    private static function modules(Device $device, ModuleSlots $slots): array
    {
        $modules = [];
        foreach ($device->kind->settings[$slots->setting]->slots() as $slot) {
            $modules[] = $device->setting($slot)->effective(Face::Set) ?? '';
        }

        return $modules;
    }
}
