<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\ValueType;

/**
 * The records to remove or unlink before a record can be removed: no reference may point to a missing record.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Removal
{
    /** @return list<Edit> in an order in which they can be done */
    public static function dependents(Plan $plan, string $section, string $key): array
    {
        return array_values([
            ...self::pointing($plan, $section, $key),
            ...self::ofJob($plan, $section, $key),
            ...self::credentials($plan, $section, $key),
            ...self::settings($plan, $section, $key),
        ]);
    }

    /** @return iterable<Edit> records that point at it: they go with it where they cannot do without, else they let it go */
    private static function pointing(Plan $plan, string $section, string $key): iterable
    {
        foreach (Schema::sections() as $other => $fields) {
            $pointers = array_filter($fields, static fn (Field $field): bool => $field->pointsTo === $section);
            foreach ([] === $pointers ? [] : $plan->rows($other) as $row) {
                yield from self::pointer($plan, $other, $row, $pointers, $key);
            }
        }
    }

    /**
     * @param RowData                  $row
     * @param array<array-key, Field> $pointers
     *
     * @return iterable<Edit>
     */
    private static function pointer(Plan $plan, string $section, array $row, array $pointers, string $key): iterable
    {
        foreach ($pointers as $field) {
            if (($row[$field->name] ?? null) !== $key) {
                continue;
            }
            if ($field->required) {
                yield from self::dependents($plan, $section, Row::keyOf($row));
                yield Edit::remove($section, $row);

                return;
            }
            yield Edit::put($section, Row::keyOf($row), $field->name, $key, null);
        }
    }

    /** @return iterable<Edit> */
    private static function ofJob(Plan $plan, string $section, string $key): iterable
    {
        foreach (Schema::job() as $field) {
            if ($field->pointsTo === $section && $key === $plan->job->textOrNull($field->name)) {
                yield Edit::put('job', '', $field->name, $key, null);
            }
        }
    }

    /** @return iterable<Edit> */
    private static function credentials(Plan $plan, string $section, string $key): iterable
    {
        foreach ($plan->rows('credentials') as $row) {
            if (($row['owner'] ?? null) === $section.'/'.$key) {
                yield Edit::remove('credentials', $row);
            }
        }
    }

    /** @return iterable<Edit> its own settings go; one that points to a device is let go */
    private static function settings(Plan $plan, string $section, string $key): iterable
    {
        foreach ($plan->rows('settings') as $row) {
            $ref = SettingRef::tryFromString(Row::keyOf($row));
            if ($ref?->record() === $section.'/'.$key) {
                yield Edit::remove('settings', $row);
            } elseif (null !== $ref && 'devices' === $section && ValueType::Device === $plan->settings()->definition($ref)?->type) {
                foreach (Face::cases() as $face) {
                    if (($row[$face->value] ?? null) === $key) {
                        yield Edit::setting($ref, $face, $key, null);
                    }
                }
            }
        }
    }
}
