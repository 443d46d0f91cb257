<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Psr\Cache\CacheItemPoolInterface;
use Vorhut\Core\Plan\Edit;
use Vorhut\Entity\Job;

/**
 * The plain rows of a job's plan as they last were, for all processes: one place for each section of a job. They are named by a stamp that
 * is drawn anew with every change, so that a database that was put back to an older state never meets rows of another future. No secret is
 * among them.
 *
 * @phpstan-import-type RowData from Edit
 *
 * @phpstan-type Sections array<string, array<array-key, RowData>>
 */
final readonly class PlanRowCache
{
    public function __construct(private CacheItemPoolInterface $cache)
    {
    }

    /** @return Sections|null section → key → row, in the order in which they came; null where other rows are kept, or none */
    public function get(Job $job, string $stamp): ?array
    {
        $rows = [];
        foreach ($this->index($job, $stamp) ?? [] as $section => $own) {
            $some = $this->section($job, $section, $own);
            if (null === $some) {
                return null;
            }
            $rows[$section] = $some;
        }

        return [] === $rows ? null : $rows;
    }

    /** @param Sections $rows */
    public function put(Job $job, string $stamp, array $rows): void
    {
        if ('' === $stamp) {
            return;
        }
        foreach ($rows as $section => $some) {
            $this->keep($job, '.'.$section, ['stamp' => $stamp, 'rows' => $some]);
        }
        $this->keep($job, '', ['stamp' => $stamp, 'sections' => array_fill_keys(array_keys($rows), $stamp)]);
    }

    /** After a change: the cached rows of the previous state, with the rows it changed as they are now; the other sections stay. */
    public function carry(Job $job, string $before, AffectedRecords $touched): void
    {
        $index = $this->index($job, $before);
        if (null === $index) {
            return;
        }
        $changed = [];
        foreach ($touched->allRemoved() as $section => $keys) {
            foreach ($keys as $key) {
                $changed[$section][$key] = null;
            }
        }
        foreach ($touched->allChanged() as [$section, $record]) {
            $changed[$section][$record->key] = Records::row($section, $record);
        }
        foreach ($changed as $section => $some) {
            $rows = $this->section($job, $section, $index[$section] ?? '');
            if (null === $rows) {
                return;
            }
            foreach ($some as $key => $row) {
                if (null === $row) {
                    unset($rows[$key]);
                } else {
                    $rows[$key] = $row;
                }
            }
            $this->keep($job, '.'.$section, ['stamp' => $job->planStamp, 'rows' => $rows]);
            $index[$section] = $job->planStamp;
        }
        $this->keep($job, '', ['stamp' => $job->planStamp, 'sections' => $index]);
    }

    /** @return array<string, string>|null section → the stamp under which its rows are kept */
    private function index(Job $job, string $stamp): ?array
    {
        $kept = $this->cache->getItem(self::name($job, ''))->get();
        if ('' === $stamp || !\is_array($kept) || ($kept['stamp'] ?? null) !== $stamp || !\is_array($kept['sections'] ?? null)) {
            return null;
        }
        /** @var array<string, string> $sections only written here */
        $sections = $kept['sections'];

        return $sections;
    }

    /** @return array<array-key, RowData>|null */
    private function section(Job $job, string $section, string $stamp): ?array
    {
        $kept = $this->cache->getItem(self::name($job, '.'.$section))->get();
        if (!\is_array($kept) || ($kept['stamp'] ?? null) !== $stamp || !\is_array($kept['rows'] ?? null)) {
            return null;
        }
        /** @var array<array-key, RowData> $rows only written here */
        $rows = $kept['rows'];

        return $rows;
    }

    /** @param array<string, mixed> $value */
    private function keep(Job $job, string $part, array $value): void
    {
        $this->cache->save($this->cache->getItem(self::name($job, $part))->set($value));
    }

    private static function name(Job $job, string $part): string
    {
        return 'rows.'.$job->fileToken.$part;
    }
}
