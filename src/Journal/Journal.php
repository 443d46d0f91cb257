<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Schema;
use Vorhut\Entity\FacedValue;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\Record;

/**
 * The one way in which a job changes. A change is checked against what is stored, written, and entered in the journal in one transaction; two
 * changes of one job never run at the same time.
 */
final readonly class Journal
{
    public function __construct(private EntityManagerInterface $manager, private Records $records, private ClockInterface $clock)
    {
    }

    /**
     * @throws Conflict where a value is no longer what the change expects; then nothing is written
     */
    public function write(Job $job, Change $change, string $by, ?int $undoes = null): ?JournalEntry
    {
        if ($change->isEmpty()) {
            return null;
        }

        return $this->locked($job, function () use ($job, $change, $by, $undoes): JournalEntry {
            $entry = new JournalEntry();
            foreach ($change->edits as $edit) {
                $this->apply($job, $edit, $by);
            }
            $entry->job = $job;
            $entry->number = $this->lastNumber($job) + 1;
            $entry->at = $this->now();
            $entry->by = $by;
            $entry->why = (string) $change->why;
            $entry->undoes = $undoes;
            $entry->edits = array_map(static fn (Edit $edit): array => $edit->jsonSerialize(), $change->edits);
            $this->manager->persist($entry);

            return $entry;
        });
    }

    /**
     * Takes a change back, by the same way. A redo is the undoing of an undoing.
     *
     * @throws Refused with a reason, where somebody built on the change since
     */
    public function undo(Job $job, JournalEntry $entry, string $by): JournalEntry
    {
        if ($entry->by !== $by) {
            throw new Refused(new Message('This change is by {who}; each takes back their own.', ['who' => $entry->by]));
        }
        if (null !== $this->undoneBy($job, $entry)) {
            throw new Refused(new Message('This change was taken back already.'));
        }
        $change = self::change($entry)->reversed(new Message('Taken back: {what}', ['what' => $entry->why]));
        try {
            return $this->write($job, $change, $by, $entry->number) ?? throw new Refused(new Message('There is nothing to take back.'));
        } catch (Conflict $conflict) {
            throw new Refused(new Message('{who} built on this change since ({what}); take that back first.', ['who' => $conflict->by ?? 'Somebody', 'what' => '' === $conflict->mine->field ? $conflict->mine->record() : $conflict->mine->record().' '.$conflict->mine->field]));
        }
    }

    /** The last change of one's own that can be taken back. */
    public function undoable(Job $job, string $by): ?JournalEntry
    {
        $undone = [];
        foreach ($this->entries($job, 200) as $entry) {
            if (null !== $entry->undoes) {
                if (!isset($undone[$entry->number])) {
                    $undone[$entry->undoes] = true;
                }
                continue;
            }
            if ($entry->by === $by && !isset($undone[$entry->number])) {
                return $entry;
            }
        }

        return null;
    }

    /** The last undoing of one's own, as long as no own change came after it. */
    public function redoable(Job $job, string $by): ?JournalEntry
    {
        $undone = [];
        foreach ($this->entries($job, 200) as $entry) {
            if ($entry->by !== $by) {
                continue;
            }
            if (null === $entry->undoes) {
                return null;
            }
            $original = $this->manager->getRepository(JournalEntry::class)->findOneBy(['job' => $job, 'number' => $entry->undoes]);
            if (null !== $original?->undoes) {
                $undone[$entry->undoes] = true; // this entry is a redo: what it redid is done again
                continue;
            }
            if (!isset($undone[$entry->number])) {
                return $entry;
            }
        }

        return null;
    }

    /** @return list<JournalEntry> newest first */
    public function entries(Job $job, int $most = 50): array
    {
        return $this->manager->getRepository(JournalEntry::class)->findBy(['job' => $job], ['number' => 'DESC'], $most);
    }

    public function entry(Job $job, int $number): ?JournalEntry
    {
        return $this->manager->getRepository(JournalEntry::class)->findOneBy(['job' => $job, 'number' => $number]);
    }

    public function undoneBy(Job $job, JournalEntry $entry): ?JournalEntry
    {
        $undoing = $this->manager->getRepository(JournalEntry::class)->findOneBy(['job' => $job, 'undoes' => $entry->number], ['number' => 'DESC']);

        return null === $undoing || null !== $this->undoneBy($job, $undoing) ? null : $undoing;
    }

    public static function change(JournalEntry $entry): Change
    {
        return new Change(new Message($entry->why), array_map(Edit::fromArray(...), $entry->edits));
    }

    /**
     * Evidence is no change: it is added and never altered. It counts the revision up so that open pages see it.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     */
    public function evidence(Job $job, string $section, array $row): void
    {
        $this->locked($job, function () use ($job, $section, $row): JournalEntry {
            $this->records->add($job, $section, $row);

            return new JournalEntry();
        });
    }

    public function now(): string
    {
        return $this->clock->now()->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }

    /** @param callable(): JournalEntry $write */
    private function locked(Job $job, callable $write): JournalEntry
    {
        $connection = $this->manager->getConnection();
        $connection->beginTransaction();
        try {
            $this->manager->refresh($job, LockMode::PESSIMISTIC_WRITE);
            $entry = $write();
            ++$job->revision;
            $this->manager->flush();
            $connection->commit();
        } catch (\Throwable $e) {
            $connection->rollBack();
            // What was half applied must not be in memory either.
            $this->manager->clear();
            throw $e;
        }

        return $entry;
    }

    private function apply(Job $job, Edit $edit, string $by): void
    {
        if ('job' === $edit->section) {
            $this->put($job, $job, $edit);

            return;
        }
        $record = $this->records->find($job, $edit->section, $edit->key);
        if (EditKind::Add === $edit->kind) {
            if (null !== $record) {
                throw new Conflict($edit, $edit->key, $this->lastEditor($job, $edit));
            }
            $this->manager->flush();
            $this->records->add($job, $edit->section, $edit->row ?? []);
            $this->manager->flush();

            return;
        }
        if (null === $record && 'values' === $edit->section && EditKind::Put === $edit->kind) {
            [$owner, $field] = explode('#', $edit->key, 2) + [1 => ''];
            $record = $this->records->add($job, 'values', ['key' => $edit->key, 'owner' => $owner, 'field' => $field]);
        }
        if (null === $record) {
            throw new Conflict($edit, null, $this->lastEditor($job, $edit));
        }
        if (EditKind::Remove === $edit->kind) {
            // What somebody changed since must not vanish with the record.
            foreach (Schema::sections()[$edit->section] as $field) {
                $before = $edit->row[$field->name] ?? null;
                if (self::differ(Records::get($record, $field->name), $before)) {
                    throw new Conflict(Edit::put($edit->section, $edit->key, $field->name, $before, null), Records::get($record, $field->name), $this->lastEditor($job, $edit));
                }
            }
            $this->records->remove($record);
            $this->manager->flush();

            return;
        }
        $this->put($job, $record, $edit);
        $face = Face::tryFrom($edit->field);
        if ($record instanceof FacedValue && null !== $face) {
            Records::put($record, $face->value.'By', null === $edit->after ? null : $by);
            Records::put($record, $face->value.'At', null === $edit->after ? null : $this->now());
        }
        $this->manager->flush();
    }

    private function put(Job $job, Job|Record $record, Edit $edit): void
    {
        $stored = Records::get($record, $edit->field);
        if (self::differ($stored, $edit->before)) {
            throw new Conflict($edit, $stored, $this->lastEditor($job, $edit));
        }
        Records::put($record, $edit->field, $edit->after);
    }

    /** An empty list, an empty text field and nothing are the same in the database; the empty text of a face is not. */
    private static function differ(mixed $a, mixed $b): bool
    {
        return ([] === $a ? null : $a) !== ([] === $b ? null : $b);
    }

    private function lastEditor(Job $job, Edit $edit): ?string
    {
        foreach ($this->entries($job, 100) as $entry) {
            foreach ($entry->edits as $one) {
                if (($one['section'] ?? null) === $edit->section && ($one['key'] ?? null) === $edit->key) {
                    return $entry->by;
                }
            }
        }

        return null;
    }

    private function lastNumber(Job $job): int
    {
        return ($this->entries($job, 1)[0] ?? null)->number ?? 0;
    }
}
