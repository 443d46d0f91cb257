<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Malformed;

/**
 * A change as typed on a line: `RECORD FIELD=VALUE …` sets fields of a record, `+SECTION FIELD=VALUE …` adds one, and `-RECORD` removes one
 * with everything that depends on it. A value with blanks is quoted; an empty one clears the field. For a setting the record is its
 * address, and the field the face: `nics/cam-01.lan#gateway set=10.64.30.1`.
 */
final class EditNotation
{
    /**
     * @return list<Edit>
     *
     * @throws Malformed
     */
    public static function read(Plan $plan, string $line): array
    {
        $line = trim($line);
        if (1 !== preg_match('~^([+-]?)([A-Za-z]+)(?:/(\S+))?((?:\s+\S+=(?:"[^"]*"|\S*))*)$~D', $line, $found)) {
            throw Malformed::because('"{line}": write RECORD FIELD=VALUE, +SECTION FIELD=VALUE, or -RECORD.', ['line' => $line]);
        }
        [, $how, $section, $key] = $found;
        if ('settings' !== $section && 'job' !== $section && str_contains($key, '#')) {
            // A setting is named by its address only.
            [$section, $key] = ['settings', $section.'/'.$key];
        }
        if ('job' !== $section && !isset(Schema::sections()[$section])) {
            throw Malformed::because('Unknown section "{section}".', ['section' => $section]);
        }
        preg_match_all('~(\S+?)=("[^"]*"|\S*)~', $found[4], $pairs, \PREG_SET_ORDER);
        $values = [];
        foreach ($pairs as [, $name, $value]) {
            $values[$name] = trim($value, '"');
        }

        return match ($how) {
            '+' => [self::addition($plan, $section, $key, $values)],
            '-' => self::removal($plan, $section, $key),
            default => self::put($plan, $section, $key, $values),
        };
    }

    /** @param array<array-key, string> $values */
    private static function addition(Plan $plan, string $section, string $key, array $values): Edit
    {
        $row = ['key' => '' === $key ? $plan->freeKey($section, $section) : $key];
        if (null !== $plan->row($section, $row['key'])) {
            throw Malformed::because('There is a "{key}" in {section} already.', ['key' => $row['key'], 'section' => $section]);
        }
        $fields = Schema::sections()[$section] ?? [];
        foreach ($fields as $field) {
            $row[$field->name] = self::value($plan, $field, $values[$field->name] ?? ($field->choices[0] ?? ''));
            unset($values[$field->name]);
        }
        self::noneLeft($section, $values);

        return Edit::add($section, $row);
    }

    /** @return list<Edit> */
    private static function removal(Plan $plan, string $section, string $key): array
    {
        $row = $plan->row($section, $key) ?? throw self::missing($section, $key);

        return [...Removal::dependents($plan, $section, $key), Edit::remove($section, $row)];
    }

    /**
     * @param array<array-key, string> $values
     *
     * @return list<Edit>
     */
    private static function put(Plan $plan, string $section, string $key, array $values): array
    {
        if ([] === $values) {
            throw Malformed::because('"{record}": say what becomes of it, as FIELD=VALUE.', ['record' => trim($section.'/'.$key, '/')]);
        }
        $row = 'job' === $section ? $plan->jobRow() : $plan->row($section, $key);
        $ref = 'settings' === $section ? SettingRef::tryFromString($key) : null;
        $setting = null === $ref ? null : $plan->settings()->definition($ref);
        if (null === $row && null === $setting) {
            throw self::missing($section, $key);
        }
        $edits = [];
        foreach ($values as $name => $value) {
            $field = Schema::field($section, (string) $name)
                ?? throw Malformed::because('{section} has no field "{name}".', ['section' => $section, 'name' => $name]);
            $edits[] = Edit::put($section, $key, $field->name, $row[$field->name] ?? null, match (true) {
                null === $setting, '' === $value => self::value($plan, $field, $value),
                '-' === $value => '',
                default => $plan->settings()->read($setting, $value),
            });
        }

        return $edits;
    }

    /** @return string|int|bool|list<mixed>|null */
    private static function value(Plan $plan, Field $field, string $text): string|int|bool|array|null
    {
        if (null === $field->pointsTo || '' === trim($text)) {
            return $field->read($text);
        }
        $value = trim($text);
        $named = match (true) {
            'kinds' === $field->pointsTo => $plan->catalogue->kind($value)?->code,
            null !== $plan->row($field->pointsTo, $value) => $value,
            'devices' === $field->pointsTo => $plan->deviceTagged($value)?->key,
            'segments' === $field->pointsTo => $plan->segmentNamed($value)?->key,
            default => null,
        };

        return $named ?? throw Malformed::because('There is no "{value}" in {pointsTo}.', [
            'value' => $value,
            'pointsTo' => $field->pointsTo,
        ]);
    }

    /** @param array<array-key, string> $values */
    private static function noneLeft(string $section, array $values): void
    {
        foreach (array_keys($values) as $name) {
            throw Malformed::because('{section} has no field "{name}".', ['section' => $section, 'name' => $name]);
        }
    }

    private static function missing(string $section, string $key): Malformed
    {
        return Malformed::because('There is no "{key}" in {section}.', ['key' => $key, 'section' => $section]);
    }
}
