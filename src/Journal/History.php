<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Plan;

/** Which entries of the journal are about a record: it, its ports, its settings, its marks, and nothing that only begins alike. */
final class History
{
    /**
     * The texts that stand in an edit of the record or of what belongs to it, each as the journal quotes it: with what may follow.
     *
     * @param string $record `section/key`; the empty text asks for all
     *
     * @return list<string>
     */
    public static function keys(Plan $plan, string $record): array
    {
        [$section, $key] = explode('/', $record, 2) + [1 => ''];
        if ('' === $key || 'tests' === $section) {
            return [];
        }
        $keys = [$key.'"', $section.'/'.$key.'#', $section.'/'.$key.'"'];
        foreach ('devices' === $section ? $plan->devices[$key]->nics ?? [] : [] as $nic) {
            array_push($keys, $nic->key.'"', $nic->record().'#');
        }
        foreach ('devices' === $section ? $plan->devices[$key]->kind->steps ?? [] : [] as $step) {
            $keys[] = $key.'.'.$step->code.'"';
        }

        return $keys;
    }
}
