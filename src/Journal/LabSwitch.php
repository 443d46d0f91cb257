<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;

/** Turns the lab of a job on and off. */
final readonly class LabSwitch
{
    public function __construct(
        private JobTransaction $transaction,
        private JournalEntries $entries,
        private JournalClock $clock,
    ) {
    }

    /** Whether the lab is running for the job: not part of its plan, but recorded like every other action on it. */
    public function turn(Job $job, bool $on, User|string $by): void
    {
        $author = Author::of($by);
        $this->transaction->run($job, function (Job $job) use ($on, $author): void {
            if ($on === $job->rehearsed) {
                return;
            }
            $job->rehearsed = $on;
            $this->entries->create(
                $job,
                $author,
                $this->clock->now(),
                $on ? new Message('The lab is running for this job.') : new Message('The lab is no longer running for this job.'),
            );
        });
    }
}
