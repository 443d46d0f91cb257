<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** What has to go, or be let go, before a record can: nothing may point at what is not there. */
final class Removal
{
    /** @return list<Edit> in an order in which they can be done */
    public static function leaning(Plan $plan, string $section, string $key): array
    {
        $edits = [];
        foreach (Schema::sections() as $other => $fields) {
            foreach ($plan->rows($other) as $row) {
                $own = Row::keyOf($row);
                foreach ($fields as $field) {
                    if ($field->pointsTo !== $section || ($row[$field->name] ?? null) !== $key) {
                        continue;
                    }
                    $edits = [...$edits, ...($field->required ? [...self::leaning($plan, $other, $own), Edit::remove($other, $row)] : [Edit::put($other, $own, $field->name, $key, null)])];
                    break;
                }
            }
        }
        foreach (['values', 'credentials'] as $owned) {
            foreach ($plan->rows($owned) as $row) {
                if (($row['owner'] ?? null) === $section.'/'.$key) {
                    $edits[] = Edit::remove($owned, $row);
                }
            }
        }

        return $edits;
    }
}
