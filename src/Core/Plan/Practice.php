<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * What a practice job has recorded. The lab is its site, so everything entered, read back or marked there says nothing about real
 * devices: it is removed when practice ends. A job that already has records of its site cannot become a practice job, because the
 * two could no longer be told apart.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Practice
{
    /** @var list<Edit> */
    private array $edits = [];

    private function __construct(private readonly Plan $plan)
    {
    }

    /** @return list<Edit> removes every record of work done at devices; the plan itself stays as it is */
    public static function removal(Plan $plan): array
    {
        $practice = new self($plan);
        $practice->removeFaces();
        $practice->removeMarks();
        $practice->restoreFirstPasswords();
        $practice->removeEntries();

        return $practice->edits;
    }

    public static function hasRecords(Plan $plan): bool
    {
        return [] !== self::removal($plan);
    }

    /** Whether the change ends practice. */
    public static function endsWith(Change $change): bool
    {
        return null !== self::switchedTo($change, false);
    }

    /** Whether the change makes the job a practice job. */
    public static function beginsWith(Change $change): bool
    {
        return null !== self::switchedTo($change, true);
    }

    private static function switchedTo(Change $change, bool $on): ?Edit
    {
        foreach ($change->edits as $edit) {
            if ('job' === $edit->section && 'practice' === $edit->field && $on === (true === $edit->after)) {
                return (true === $edit->before) === $on ? null : $edit;
            }
        }

        return null;
    }

    private function removeFaces(): void
    {
        foreach ($this->plan->rows('settings') as $row) {
            $this->clear('settings', $row, [Face::Set->value, Face::Seen->value, 'odd']);
        }
    }

    private function removeMarks(): void
    {
        foreach (['marks', 'waits'] as $section) {
            foreach ($this->plan->rows($section) as $row) {
                $this->edits[] = Edit::remove($section, $row);
            }
        }
    }

    private function restoreFirstPasswords(): void
    {
        foreach ($this->plan->credentials() as $credential) {
            if ('admin' !== $credential->purpose || $credential->isDefault) {
                continue;
            }
            $this->edits[] = Edit::put('credentials', $credential->key, 'state', 'changed', 'default');
            if (null !== $credential->changedAt) {
                $this->edits[] = Edit::put('credentials', $credential->key, 'changedAt', $credential->changedAt, null);
            }
        }
    }

    /** Phones that were entered at a registrar. */
    private function removeEntries(): void
    {
        foreach (['accounts', 'terminals'] as $section) {
            foreach ($this->plan->rows($section) as $row) {
                $this->clear($section, $row, ['macEntered', 'enteredAt']);
            }
        }
    }

    /**
     * @param RowData      $row
     * @param list<string> $fields
     */
    private function clear(string $section, array $row, array $fields): void
    {
        foreach ($fields as $field) {
            $value = $row[$field] ?? null;
            if (null !== $value) {
                $this->edits[] = Edit::put($section, Row::keyOf($row), $field, $value, null);
            }
        }
    }
}
