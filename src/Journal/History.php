<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingRef;
use Vorhut\Entity\JournalEntry;

/** Which entries of the journal are about a record: it, its ports, its settings, its marks, and nothing that only begins alike. */
final class History
{
    private const OWNERS = ['device', 'phone', 'router', 'extension'];

    /**
     * @param list<JournalEntry> $entries
     * @param string             $record  `section/key`; the empty text asks for all
     *
     * @return list<JournalEntry>
     */
    public static function about(array $entries, Plan $plan, string $record): array
    {
        if ('' === $record) {
            return $entries;
        }
        [$section, $key] = explode('/', $record, 2) + [1 => ''];
        $records = [$record => true];
        if ('devices' === $section) {
            foreach ($plan->devices[$key]->nics ?? [] as $nic) {
                $records[$nic->record()] = true;
            }
            foreach ($plan->devices[$key]->kind->steps ?? [] as $step) {
                $records['marks/'.$key.'.'.$step->code] = true;
            }
        }

        return array_values(array_filter($entries, static function (JournalEntry $entry) use ($records, $key): bool {
            foreach ($entry->edits as $edit) {
                if (isset($records[self::recordOf($edit)]) || self::belongs($edit, $key)) {
                    return true;
                }
            }

            return false;
        }));
    }

    /** @param array<string, mixed> $edit */
    private static function recordOf(array $edit): string
    {
        $section = \is_string($edit['section'] ?? null) ? $edit['section'] : '';
        $key = \is_string($edit['key'] ?? null) ? $edit['key'] : '';

        return 'settings' === $section ? SettingRef::tryFromString($key)?->record() ?? '' : $section.'/'.$key;
    }

    /**
     * A record that came or went may say itself whose it is.
     *
     * @param array<string, mixed> $edit
     */
    private static function belongs(array $edit, string $key): bool
    {
        $row = \is_array($edit['row'] ?? null) ? $edit['row'] : [];
        foreach (self::OWNERS as $owner) {
            if ('' !== $key && $key === ($row[$owner] ?? null)) {
                return true;
            }
        }

        return false;
    }
}
