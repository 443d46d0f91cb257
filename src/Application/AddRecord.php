<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\KnownValues;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Refused;

/** Adds a record that was typed into a form, with the records that belong to it. */
final readonly class AddRecord
{
    public function __construct(private ChangeWriter $changes)
    {
    }

    /**
     * @param array<string, string> $typed field → text
     *
     * @return non-empty-list<Edit> the record first
     *
     * @throws FieldErrors
     * @throws NotEditable
     */
    public function edits(Plan $plan, string $section, array $typed): array
    {
        $fields = FieldReader::fieldsOf($section);
        if ([] === $fields) {
            throw NotEditable::because('Unknown section "{section}".', ['section' => $section]);
        }
        $typed = KnownValues::fill($plan, $section, $typed);
        $errors = [];
        $row = ['key' => ''];
        foreach ($fields as $name => $field) {
            try {
                $row[$name] = FieldReader::value($plan, $field, $typed[$name] ?? '');
            } catch (Malformed $e) {
                $errors[$name] = $e->message();
            }
        }
        if ('extensions' === $section && !isset($errors['number']) && null !== $plan->extensionNumbered($typed['number'] ?? '')) {
            $errors['number'] = new Message('The number {number} is taken.', ['number' => $typed['number'] ?? '']);
        }
        if ('devices' === $section && !isset($errors['tag']) && null !== $plan->deviceTagged($typed['tag'] ?? '')) {
            $errors['tag'] = new Message('{tag} is in the roster already.', ['tag' => $typed['tag'] ?? '']);
        }
        if ([] !== $errors) {
            throw new FieldErrors($errors);
        }
        $row['key'] = $plan->freeKey($section, self::nameOf($section, $row));
        $added = Edit::add($section, $row);
        if ('segments' === $section) {
            self::checkSegment($plan->with(new Change(new Message(''), [$added])), Row::keyOf($row), array_keys($typed));
        }

        return [$added, ...self::companions($plan, $section, $row)];
    }

    /**
     * @param array<string, string> $typed
     *
     * @throws FieldErrors|NotEditable|Conflict|Refused
     */
    public function add(Job $job, Plan $plan, string $section, array $typed, User|string $by): void
    {
        $edits = $this->edits($plan, $section, $typed);
        $name = self::nameOf($section, $edits[0]->row ?? []);
        $this->changes->write($job, new Change(new Message('{record} added.', ['record' => $name]), $edits), $by);
    }

    /** @param array<string, mixed> $row */
    private static function nameOf(string $section, array $row): string
    {
        $name = $row['name'] ?? $row['tag'] ?? $row['number'] ?? $section;

        return \is_scalar($name) ? (string) $name : $section;
    }

    /**
     * @param list<string> $fields
     *
     * @throws FieldErrors
     */
    private static function checkSegment(Plan $after, string $key, array $fields): void
    {
        $errors = [];
        foreach ($fields as $field) {
            try {
                EditRecord::checkSegment($after, $key, $field);
            } catch (Malformed $e) {
                $errors[$field] = $e->message();
            }
        }
        if ([] !== $errors) {
            throw new FieldErrors($errors);
        }
    }

    /**
     * A device comes with the ports of its kind, a SIP number with an account at its PBX.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     *
     * @return list<Edit>
     */
    private static function companions(Plan $plan, string $section, array $row): array
    {
        return match ($section) {
            'devices' => array_map(static fn (array $nic): Edit => Edit::add('nics', $nic), DeviceDefaults::nics($plan, $row)),
            'extensions' => Numbers::companions($plan, $row),
            default => [],
        };
    }
}
