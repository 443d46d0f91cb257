<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\EditKind;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Practice;
use Vorhut\Entity\Job;
use Vorhut\Entity\JournalEntry;
use Vorhut\Entity\User;

/**
 * Writes changes of a job; the only class that does. A change is compared with the stored values, written, checked, and entered in the
 * journal in one transaction.
 */
final readonly class ChangeWriter
{
    public function __construct(
        private JobTransaction $transaction,
        private JournalEntries $entries,
        private JournalClock $clock,
        private Records $records,
        private RecordChanges $recordChanges,
        private PlanRowCache $kept,
    ) {
    }

    /**
     * @throws Conflict if a stored value differs from the one that the change expects
     * @throws Refused  where the job could not be read again as it would be; then, too, nothing is written
     */
    public function write(Job $job, Change $change, User|string $by, ?int $undoes = null): ?JournalEntry
    {
        $author = Author::of($by);
        if ($change->isEmpty()) {
            return null;
        }

        $change = $this->withPractice($job, $change);
        $touched = new AffectedRecords();
        $before = '';
        $entry = $this->transaction->run($job, function (Job $job) use ($change, $author, $undoes, &$touched, &$before): JournalEntry {
            $at = $this->clock->now();
            $before = $job->planStamp;
            $job->planStamp = JobTransaction::stamp();
            $job->filesStamp = self::movesFiles($change) ? JobTransaction::stamp() : $job->filesStamp;
            $touched = $this->recordChanges->make($job, $change, $author->name, $at);
            $entry = $this->entries->create($job, $author, $at, $change->why);
            $entry->undoes = $undoes;
            $entry->edits = array_map(static fn (Edit $edit): array => $edit->jsonSerialize(), $change->edits);

            return $entry;
        });
        // Only rows that are in the database are cached.
        $this->kept->carry($entry->job, $before, $touched);

        return $entry;
    }

    /**
     * A change that ends practice also removes the records from the lab.
     *
     * @throws Refused where practice would begin in a job that has records of its site
     */
    private function withPractice(Job $job, Change $change): Change
    {
        if (Practice::beginsWith($change) && Practice::hasRecords($this->records->plan($job))) {
            throw Refused::because(
                'This job already has recorded values, and practice would mix with them. Run it in the lab instead: '
                .'what happens there is kept apart.',
            );
        }
        if (!Practice::endsWith($change)) {
            return $change;
        }

        return new Change($change->why, [...$change->edits, ...Practice::removal($this->records->plan($job)->with($change))]);
    }

    /** Files for phones depend on the plan, never on values typed, marked or seen: a thousand phones that fetch change no file. */
    private static function movesFiles(Change $change): bool
    {
        foreach ($change->edits as $edit) {
            $isPlan = match ($edit->section) {
                'marks', 'waits', 'tests', 'licences' => false,
                'settings' => EditKind::Put === $edit->kind
                    ? Face::Planned->value === $edit->field
                    : null !== ($edit->row[Face::Planned->value] ?? null),
                default => true,
            };
            if ($isPlan) {
                return true;
            }
        }

        return false;
    }
}
