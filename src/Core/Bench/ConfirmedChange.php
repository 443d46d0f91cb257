<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingRef;

/**
 * The part of a fix that may be recorded at once: changes to the plan, and values that a person confirms to have entered at a device that
 * is hooked up. Values written over the network are recorded when the device acknowledges them.
 */
final readonly class ConfirmedChange
{
    /**
     * @param list<Device> $boxed devices that a person cannot have entered anything in, because they are not hooked up yet
     */
    private function __construct(public Change $change, public array $boxed)
    {
    }

    /** @param bool $entered a person says that the values were entered at the devices */
    public static function of(Plan $plan, Change $fix, bool $entered): self
    {
        $edits = $boxed = [];
        foreach ($fix->edits as $edit) {
            if (!self::isRecord($edit)) {
                $edits[] = $edit;
                continue;
            }
            $device = self::deviceOf($plan, $edit);
            $isBoxed = null !== $device && null === RunSheet::of($plan, $device)->hookedUpSince();
            if ($isBoxed) {
                $boxed[$device->key] = $device;
            } elseif ($entered) {
                $edits[] = $edit;
            }
        }

        return new self(new Change($fix->why, $edits), array_values($boxed));
    }

    /** Whether an edit records an action, and not a plan. */
    public static function isRecord(Edit $edit): bool
    {
        return match ($edit->section) {
            'settings' => Face::Planned->value !== $edit->field && !str_starts_with($edit->field, 'planned'),
            'accounts', 'terminals' => \in_array($edit->field, ['macEntered', 'enteredAt'], true),
            default => false,
        };
    }

    /** The device that holds the value; null for an entry at a registrar, which is not at the device. */
    private static function deviceOf(Plan $plan, Edit $edit): ?Device
    {
        $ref = 'settings' === $edit->section ? SettingRef::tryFromString($edit->key) : null;

        return null === $ref ? null : $plan->deviceOf($ref->section, $ref->key);
    }
}
