<?php

declare(strict_types=1);

namespace Vorhut\Provisioning;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Voice\ProvisioningFile;

/** The values that a file sets in its phone: they count as set, like typed values. */
final readonly class Written
{
    /** @return list<Edit> nothing where the phone holds all of it already */
    public function by(Plan $plan, Device $device): array
    {
        $edits = [];
        foreach (ProvisioningFile::settingsIn($plan, $device) as $slot) {
            $planned = $slot->value->planned;
            $edits = [
                ...$edits,
                ...(null === $planned || $planned === $slot->value->set ? [] : SettingChange::toBeSet($slot->ref, $slot->value, $planned)),
            ];
        }

        return $edits;
    }
}
