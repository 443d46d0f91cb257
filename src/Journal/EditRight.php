<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;

/** Edits that only a lead engineer may make: those of the plan. A technician records work done and the text on labels. */
final class EditRight
{
    /** Fields outside the records of work that a technician writes. */
    private const TECHNICIAN = [
        'devices' => ['serial', 'room', 'note', 'arrives', 'labelAddress', 'labelMask', 'labelUser', 'labelHostName'],
        'nics' => ['mac'],
        'settings' => ['set', 'seen', 'odd'],
        'accounts' => ['macEntered', 'enteredAt'],
        'terminals' => ['macEntered', 'enteredAt'],
        'licences' => ['arrivedOn', 'hardwareId'],
    ];
    /** Records of work: they come and go with it. */
    private const WORK = ['marks', 'waits', 'credentials'];

    public static function needsLead(Edit $edit): bool
    {
        if (\in_array($edit->section, self::WORK, true)) {
            return false;
        }
        if (EditKind::Put === $edit->kind) {
            return !\in_array($edit->field, self::TECHNICIAN[$edit->section] ?? [], true);
        }

        // A setting without a planned value was only set or seen.
        return 'settings' !== $edit->section || null !== ($edit->row[Face::Planned->value] ?? null);
    }

    public static function changeNeedsLead(Change $change): bool
    {
        return [] !== array_filter($change->edits, self::needsLead(...));
    }
}
