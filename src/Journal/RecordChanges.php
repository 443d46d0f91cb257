<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;
use Vorhut\Entity\Job;
use Vorhut\Entity\Record;
use Vorhut\Entity\SettingValue;

/** Makes the edits of a change in the stored records, within the transaction of the job. */
final readonly class RecordChanges
{
    /** From so many new records on they are inserted many at once. */
    private const MANY = 300;

    public function __construct(
        private EntityManagerInterface $manager,
        private Records $records,
        private JournalEntries $entries,
        private RecordLoader $loader,
        private ChangeCheck $check,
        private BulkInsert $rows,
    ) {
    }

    /**
     * @param string $by who changes them
     * @param string $at UTC, as records store times
     *
     * @return AffectedRecords as they are now
     *
     * @throws Conflict if a stored value differs from the one that the change expects
     * @throws Refused  where the job could not be read again
     */
    public function make(Job $job, Change $change, string $by, string $at): AffectedRecords
    {
        $touched = $this->affectedRecords($job, $change);
        $this->check->checkKinds($job, $change);
        foreach ($change->edits as $edit) {
            $this->apply($job, $touched, $edit, $by, $at);
        }
        $this->dropEmpty($touched);
        $this->flush($touched);
        $this->check->check($job, $touched, $change);

        return $touched;
    }

    /** All records that the change names, in one look for each section. */
    private function affectedRecords(Job $job, Change $change): AffectedRecords
    {
        $keys = [];
        foreach ($change->edits as $edit) {
            if ('job' !== $edit->section) {
                $keys[$edit->section][] = $edit->key;
            }
        }
        $touched = new AffectedRecords();
        foreach ($keys as $section => $some) {
            $this->loader->load($job, $touched, $section, $some);
        }

        return $touched;
    }

    private function apply(Job $job, AffectedRecords $touched, Edit $edit, string $by, string $at): void
    {
        if ('job' === $edit->section) {
            $this->put($job, $job, $edit);

            return;
        }
        $record = $touched->find($edit->section, $edit->key);
        if (EditKind::Add === $edit->kind) {
            if (null !== $record) {
                throw new Conflict($edit, $edit->key, $this->entries->lastEditor($job, $edit));
            }
            if ($touched->isRemoved($edit->section, $edit->key)) {
                // One of the same key went in this very change: it has to be gone before the new one comes.
                $this->manager->flush();
            }
            $touched->change($edit->section, $this->records->add($job, $edit->section, $edit->row ?? []));

            return;
        }
        if (null === $record && 'settings' === $edit->section && EditKind::Put === $edit->kind) {
            $record = $this->records->add($job, 'settings', ['key' => $edit->key]);
        }
        if (
            null === $record
            && 'settings' === $edit->section
            && EditKind::Remove === $edit->kind
            && Plan::isEmptySetting($edit->row ?? [])
        ) {
            return;
        }
        if (null === $record) {
            throw new Conflict($edit, null, $this->entries->lastEditor($job, $edit));
        }
        if (EditKind::Remove === $edit->kind) {
            // A value changed by another user since must not vanish with the record.
            foreach (Schema::sections()[$edit->section] as $field) {
                $before = $edit->row[$field->name] ?? null;
                if (self::differ(Records::get($record, $field->name), $before)) {
                    throw new Conflict(
                        Edit::put($edit->section, $edit->key, $field->name, $before, null),
                        Records::get($record, $field->name),
                        $this->entries->lastEditor($job, $edit),
                    );
                }
            }
            $this->records->remove($record);
            $touched->remove($edit->section, $edit->key);

            return;
        }
        $this->put($job, $record, $edit);
        // A device's unusual answer was seen too.
        $face = Face::tryFrom('odd' === $edit->field ? Face::Seen->value : $edit->field);
        if ($record instanceof SettingValue && null !== $face) {
            Records::put($record, $face->value.'By', null === $edit->after ? null : $by);
            Records::put($record, $face->value.'At', null === $edit->after ? null : $at);
        }
        $touched->change($edit->section, $record);
    }

    private function put(Job $job, Job|Record $record, Edit $edit): void
    {
        $stored = Records::get($record, $edit->field);
        if (self::differ($stored, $edit->before)) {
            throw new Conflict($edit, $stored, $this->entries->lastEditor($job, $edit));
        }
        Records::put($record, $edit->field, $edit->after);
    }

    /** An empty list, an empty text field and nothing are the same in the database; the empty text of a face is not. */
    private static function differ(mixed $a, mixed $b): bool
    {
        return ([] === $a ? null : $a) !== ([] === $b ? null : $b);
    }

    /** A setting that has no face left is none. */
    private function dropEmpty(AffectedRecords $touched): void
    {
        foreach ($touched->allChanged() as [$section, $record]) {
            if ($record instanceof SettingValue && null === ($record->planned ?? $record->set ?? $record->seen ?? $record->odd)) {
                $this->records->remove($record);
                $touched->remove($section, $record->key);
            }
        }
    }

    /** Some new records one by one, many of them at once; removals and changes first, so that their keys are free. */
    private function flush(AffectedRecords $touched): void
    {
        $work = $this->manager->getUnitOfWork();
        $new = [];
        foreach ($touched->allChanged() as [, $record]) {
            if ($work->isScheduledForInsert($record)) {
                $new[] = $record;
            }
        }
        if (\count($new) < self::MANY) {
            $this->manager->flush();

            return;
        }
        foreach ($new as $record) {
            $this->manager->detach($record);
        }
        $this->manager->flush();
        $this->rows->write($new);
    }
}
