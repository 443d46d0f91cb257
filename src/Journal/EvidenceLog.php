<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Entity\Job;

/** Evidence is no change: it is added and never altered, and goes after a while. */
final readonly class EvidenceLog
{
    /** Days for which evidence is kept that no verdict stands on. */
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
     * Drops evidence from before a time, but nothing that a verdict stands on.
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
