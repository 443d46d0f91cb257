<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\ValueType;

/** What has to go, or be let go, before a record can: nothing may point at what is not there. */
final class Removal
{
    /** @return list<Edit> in an order in which they can be done */
    public static function dependents(Plan $plan, string $section, string $key): array
    {
        $edits = [];
        foreach (Schema::sections() as $other => $fields) {
            foreach ($plan->rows($other) as $row) {
                $own = Row::keyOf($row);
                foreach ($fields as $field) {
                    if ($field->pointsTo !== $section || ($row[$field->name] ?? null) !== $key) {
                        continue;
                    }
                    $edits = [
                        ...$edits,
                        ...($field->required ? [
                            ...self::dependents($plan, $other, $own),
                            Edit::remove($other, $row),
                        ] : [Edit::put($other, $own, $field->name, $key, null)]),
                    ];
                    if ($field->required) {
                        break;
                    }
                }
            }
        }
        foreach (Schema::job() as $field) {
            if ($field->pointsTo === $section && $key === $plan->job->textOrNull($field->name)) {
                $edits[] = Edit::put('job', '', $field->name, $key, null);
            }
        }
        foreach ($plan->rows('credentials') as $row) {
            if (($row['owner'] ?? null) === $section.'/'.$key) {
                $edits[] = Edit::remove('credentials', $row);
            }
        }
        foreach ($plan->rows('settings') as $row) {
            $ref = SettingRef::tryFromString(Row::keyOf($row));
            if ($ref?->record() === $section.'/'.$key) {
                $edits[] = Edit::remove('settings', $row);
                continue;
            }
            // A setting that points to the device is let go.
            if (null !== $ref && 'devices' === $section && ValueType::Device === $plan->settings()->definition($ref)?->type) {
                foreach (Face::cases() as $face) {
                    if (($row[$face->value] ?? null) === $key) {
                        $edits[] = Edit::setting($ref, $face, $key, null);
                    }
                }
            }
        }

        return $edits;
    }
}
