<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Entity\Job;

/** Loads the records that a change names, in one query for each section. */
final readonly class RecordLoader
{
    public function __construct(
        private Records $records,
    ) {
    }

    /** @param list<string> $keys of records that the change or its check needs; those that are known already are not loaded again */
    public function load(Job $job, AffectedRecords $touched, string $section, array $keys): void
    {
        $keys = array_values(array_filter($keys, static fn (string $key): bool => !$touched->knows($section, $key)));
        $found = [] === $keys ? [] : $this->records->findAll($job, $section, $keys);
        foreach ($keys as $key) {
            $touched->know($section, $key, $found[$key] ?? null);
        }
    }
}
