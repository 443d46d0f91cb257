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
 * The only way in which a job changes. A change is compared with what is stored, written, checked, and entered in the journal in one
 * transaction.
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
     * @throws Conflict where a value is no longer what the change expects
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
        // Only what stands in the database is kept beside it.
        $this->kept->carry($entry->job, $before, $touched);

        return $entry;
    }

    /**
     * A change that ends practice also removes what was recorded in the lab.
     *
     * @throws Refused where practice would begin in a job that has records of its site
     */
    private function withPractice(Job $job, Change $change): Change
    {
        if (Practice::beginsWith($change) && Practice::hasRecords($this->records->plan($job))) {
            throw Refused::because(
                'Values were already recorded at this job, and practice would mix with them. Let the lab play the job instead: '
                .'what happens there is kept apart.',
            );
        }
        if (!Practice::endsWith($change)) {
            return $change;
        }

        return new Change($change->why, [...$change->edits, ...Practice::removal($this->records->plan($job)->with($change))]);
    }

    /** What phones are given is made of the plan, never of what was typed, marked or seen: a thousand phones that fetch move no file. */
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
