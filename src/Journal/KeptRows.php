<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Psr\Cache\CacheItemPoolInterface;
use Vorhut\Core\Plan\Edit;
use Vorhut\Entity\Job;

/**
 * The plain rows of a job's plan as they last were, for all processes: one place a job. They are named by a stamp that is drawn anew with
 * every change, so that a database that was put back to an older state never meets rows of another future. No secret is among them.
 *
 * @phpstan-import-type RowData from Edit
 *
 * @phpstan-type Sections array<string, array<array-key, RowData>>
 */
final readonly class KeptRows
{
    public function __construct(private CacheItemPoolInterface $cache)
    {
    }

    /** @return Sections|null section → key → row, in the order in which they came; null where other rows are kept, or none */
    public function get(Job $job, string $stamp): ?array
    {
        $kept = $this->cache->getItem(self::name($job))->get();
        if ('' === $stamp || !\is_array($kept) || ($kept['stamp'] ?? null) !== $stamp || !\is_array($kept['rows'] ?? null)) {
            return null;
        }
        /** @var Sections $rows nobody else writes here */
        $rows = $kept['rows'];

        return $rows;
    }

    /** @param Sections $rows */
    public function put(Job $job, string $stamp, array $rows): void
    {
        if ('' !== $stamp) {
            $this->cache->save($this->cache->getItem(self::name($job))->set(['stamp' => $stamp, 'rows' => $rows]));
        }
    }

    /** After a change: what was kept of the state before it, with the rows that it touched as they are now. */
    public function carry(Job $job, string $before, Touched $touched): void
    {
        $rows = $this->get($job, $before);
        if (null === $rows) {
            return;
        }
        foreach ($touched->allRemoved() as $section => $keys) {
            foreach ($keys as $key) {
                unset($rows[$section][$key]);
            }
        }
        foreach ($touched->allChanged() as [$section, $record]) {
            $rows[$section][$record->key] = Records::row($section, $record);
        }
        $this->put($job, $job->planStamp, $rows);
    }

    private static function name(Job $job): string
    {
        return 'rows.'.$job->fileToken;
    }
}
