<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Plan;

/** Which entries of the journal are about a record: it, its ports, its settings, its marks, and nothing that only begins alike. */
final class HistoryPatterns
{
    /** Fields that name the owner of a record that was added or removed. */
    private const OWNERS = ['device', 'phone', 'router', 'extension'];

    /**
     * The beginnings of edits, as the journal stores them, of the record and of what belongs to it. A value that happens to read like a
     * key is none of them.
     *
     * @param string $record `section/key`; the empty text asks for all
     *
     * @return list<string>
     */
    public static function patterns(Plan $plan, string $record): array
    {
        [$section, $key] = explode('/', $record, 2) + [1 => ''];
        if ('' === $key || 'tests' === $section) {
            return [];
        }
        $patterns = [self::of($section, $key), self::of('settings', $record.'#', false)];
        foreach (self::OWNERS as $owner) {
            $patterns[] = json_encode($owner).':'.json_encode($key);
        }
        $device = 'devices' === $section ? $plan->devices[$key] ?? null : null;
        foreach ($device->nics ?? [] as $nic) {
            array_push($patterns, self::of('nics', $nic->key), self::of('settings', $nic->record().'#', false));
        }
        foreach ($device->kind->steps ?? [] as $step) {
            $patterns[] = self::of('marks', $key.'.'.$step->code);
        }

        return $patterns;
    }

    /** @param bool $whole the key is all of it, and not only its beginning */
    private static function of(string $section, string $key, bool $whole = true): string
    {
        $quoted = (string) json_encode($key);

        return '"section":'.json_encode($section).',"key":'.($whole ? $quoted : substr($quoted, 0, -1));
    }
}
