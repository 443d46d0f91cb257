<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Entity\Job;

/** Evidence is separate from changes: it is added, never altered, and expires. */
final readonly class EvidenceLog
{
    /** Days for which evidence is kept that no verdict needs. */
    public const DAYS = 400;

    public function __construct(
        private JobTransaction $transaction,
        private Records $records,
    ) {
    }

    /**
     * One observation, fetch or photo.
     *
     * @param array<string, scalar|list<mixed>|null> $row
     */
    public function add(Job $job, string $section, array $row): void
    {
        $this->transaction->run($job, function (Job $job) use ($section, $row): void {
            $this->records->add($job, $section, $row + ['arrived' => $this->records->lastArrived($job, $section) + 1]);
        });
    }

    /**
     * The same of many at once.
     *
     * @param list<array<string, scalar|list<mixed>|null>> $rows in the order in which they came
     */
    public function addAll(Job $job, string $section, array $rows): void
    {
        $this->transaction->run($job, function (Job $job) use ($section, $rows): void {
            $arrived = $this->records->lastArrived($job, $section);
            foreach ($rows as $row) {
                $this->records->add($job, $section, $row + ['arrived' => ++$arrived]);
            }
        });
    }

    /**
     * Deletes evidence older than a time, except for that which a verdict needs.
     *
     * @param string $before UTC, as records store times
     *
     * @return int how much went
     */
    public function prune(Job $job, string $before): int
    {
        $gone = $this->records->dropEvidence($job, $before);
        // The snapshot is the same with it and without it; only what shows all of it has to look again.
        if (0 !== $gone) {
            $this->transaction->run($job, static fn (): null => null);
        }

        return $gone;
    }
}
