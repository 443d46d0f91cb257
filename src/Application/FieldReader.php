<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Psr\Clock\ClockInterface;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Field;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Plan\SettingRef;

/** Reads typed text as values of a job's records. Where a field points to a record, its name, tag or key may be typed. */
final readonly class FieldReader
{
    /** Evidence, marks, secrets and kinds are written by other use cases. */
    private const OTHERS = ['observations', 'fetches', 'marks', 'waits', 'credentials', 'ownKinds'];
    /** Characters of a refused value that are repeated. */
    private const QUOTED = 80;

    public function __construct(private ClockInterface $clock)
    {
    }

    /**
     * @return array<string, Field> the fields of a section that people may write
     *
     * @throws NotEditable
     */
    public static function fieldsOf(string $section): array
    {
        if (\in_array($section, self::OTHERS, true)) {
            throw NotEditable::because('Records of "{section}" are not edited by hand.', ['section' => $section]);
        }
        $fields = [];
        foreach (Schema::sections()[$section] ?? [] as $field) {
            $fields[$field->name] = $field;
        }

        return $fields;
    }

    /**
     * The edit that a person means, with the value that the page showed as the one expected to be stored.
     *
     * @throws Malformed   where the text is not such a value
     * @throws NotEditable
     */
    public function edit(Plan $plan, FieldInput $input): Edit
    {
        self::fieldsOf($input->section);
        if ('settings' === $input->section) {
            return self::settingEdit($plan, $input);
        }
        $field = Schema::field($input->section, $input->field) ?? throw NotEditable::because('Unknown field.');
        if ('devices' === $input->section && 'tag' === $input->field) {
            self::checkTag($plan, $input->key, trim($input->text));
        }
        $row = 'job' === $input->section ? $plan->jobRow() : $plan->row($input->section, $input->key) ?? [];

        return Edit::put(
            $input->section,
            $input->key,
            $input->field,
            '' === $input->before ? self::emptyOf($row, $input->field) : self::value($plan, $field, $input->before),
            // Something that was just done is done at the server's time.
            FieldType::Time === $field->type && 'now' === $input->text
                ? $field->read($this->clock->now()->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z'))
                : self::value($plan, $field, $input->text),
        );
    }

    /** @throws Malformed if another device has this tag */
    private static function checkTag(Plan $plan, string $device, string $tag): void
    {
        if (($plan->deviceTagged($tag)->key ?? $device) !== $device) {
            throw Malformed::because('{tag} is in the roster already.', ['tag' => $tag]);
        }
    }

    /**
     * @return string|int|bool|list<mixed>|null
     *
     * @throws Malformed
     */
    public static function value(Plan $plan, Field $field, string $text): string|int|bool|array|null
    {
        $text = trim($text);
        if (null === $field->pointsTo || '' === $text) {
            return $field->read($text);
        }

        return self::keyOf($plan, $field->pointsTo, $text) ?? throw Malformed::because(
            'There is no "{value}" in {pointsTo}.',
            ['value' => mb_substr($text, 0, self::QUOTED), 'pointsTo' => $field->pointsTo],
        );
    }

    /** @return string|null the key of the record that a person means by its key, tag or name */
    private static function keyOf(Plan $plan, string $section, string $text): ?string
    {
        if ('kinds' === $section ? null !== $plan->catalogue->kind($text) : null !== $plan->row($section, $text)) {
            return $text;
        }

        return match ($section) {
            'devices' => $plan->deviceTagged($text)?->key,
            'segments' => $plan->segmentNamed($text)?->key,
            default => self::keyOfName($plan, $section, $text),
        };
    }

    private static function keyOfName(Plan $plan, string $section, string $name): ?string
    {
        foreach ($plan->rows($section) as $row) {
            if (($row['name'] ?? null) === $name) {
                return Row::keyOf($row);
            }
        }

        return null;
    }

    /** @throws Malformed|NotEditable */
    private static function settingEdit(Plan $plan, FieldInput $input): Edit
    {
        $ref = SettingRef::tryFromString($input->key) ?? throw NotEditable::because('Unknown setting.');
        $face = Face::tryFrom($input->field) ?? throw NotEditable::because('Unknown field.');
        $setting = $plan->settings()->definition($ref) ?? throw NotEditable::because('Unknown setting.');
        // A value that was read back is evidence: a probe brings it, or the step of a run sheet that reads it.
        if (null !== $setting->secret || Face::Seen === $face || ($setting->found && Face::Planned !== $face)) {
            throw NotEditable::because('This value is not edited by hand.');
        }
        $read = static fn (string $text): ?string => match (trim($text)) {
            '' => null,
            // Left blank on purpose.
            '-' => $setting->blank ? '' : throw new Malformed('This must not be left blank.'),
            default => $plan->settings()->read($setting, $text),
        };

        return Edit::setting($ref, $face, $read($input->before), $read($input->text));
    }

    /**
     * An empty field means null, an empty list or "no", depending on the field.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return string|list<mixed>|false|null
     */
    private static function emptyOf(array $row, string $name): string|array|false|null
    {
        $stored = $row[$name] ?? null;

        return \in_array($stored, ['', [], false], true) ? $stored : null;
    }
}
