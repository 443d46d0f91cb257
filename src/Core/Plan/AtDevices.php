<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * The devices that must receive a change before it is true: those that fetch it over the network, and those where a person types it and
 * marks it. A value that exists only in the plan needs no device.
 */
final readonly class AtDevices
{
    /**
     * @param list<Device> $byNetwork
     * @param list<Device> $byHand
     */
    private function __construct(public array $byNetwork, public array $byHand)
    {
    }

    public static function of(Plan $plan, Change $change): self
    {
        $takes = $byHand = [];
        foreach ($change->edits as $edit) {
            $ref = 'settings' === $edit->section && \in_array($edit->field, [Face::Set->value, Face::Seen->value], true)
                ? SettingRef::tryFromString($edit->key)
                : null;
            $device = null === $ref ? null : $plan->deviceOf($ref->section, $ref->key);
            if (null === $ref || null === $device) {
                continue;
            }
            $local = 'nics' === $ref->section ? ($plan->nics[$ref->key]->name ?? '').'.'.$ref->slot : $ref->slot;
            if ($device->kind->writable && isset($device->kind->adminFields()[$local])) {
                $takes[$device->key] = $device;
            } else {
                $byHand[$device->key] = $device;
            }
        }

        return new self(array_values($takes), array_values($byHand));
    }

    /** Tags of those where a person has to type it. */
    public function hands(): string
    {
        return implode(', ', array_map(static fn (Device $one): string => $one->tag, $this->byHand));
    }
}
