<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Cache\CacheItemPoolInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Lock\LockFactory;
use Vorhut\Core\Analysis\Kept;
use Vorhut\Entity\Job;

/**
 * Results of a job's analysis, cached for all web processes until the job changes: one entry for each part, so that nothing accumulates.
 * They belong to the state named by the job's stamp: a revision number would start from one again in a database that is new or restored.
 *
 * The first process that needs a result computes it, the others wait for it. A page that only refreshes itself may get a result a few
 * seconds old, and knows its age: with many people in one job, each change of one would have all of it computed for each of the others.
 */
final class StampedCache implements Kept
{
    private readonly string $token;
    private readonly string $stamp;
    private bool $behind = false;
    /** How many results are being made within one another. */
    private int $making = 0;

    /**
     * @param Job $job     as it is before its snapshot is read: anything newer than its stamp is computed again, never the other way
     * @param int $patient seconds for which a result of an older state will do
     */
    public function __construct(
        private readonly CacheItemPoolInterface $pool,
        private readonly LockFactory $locks,
        private readonly ClockInterface $clock,
        Job $job,
        private readonly int $patient = 0,
    ) {
        $this->token = $job->fileToken;
        $this->stamp = $job->stamp;
    }

    public function isBehind(): bool
    {
        return $this->behind;
    }

    public function has(string $part): bool
    {
        return null !== $this->load($this->name($part));
    }

    private function name(string $part): string
    {
        return 'analysis.'.$this->token.'.'.$part;
    }

    public function get(string $part, \Closure $make): mixed
    {
        $name = $this->name($part);
        $kept = $this->load($name);
        if (null === $kept) {
            $lock = $this->locks->createLock($name);
            $lock->acquire(true);
            try {
                $kept = $this->load($name);
                if (null === $kept) {
                    // The value computed now, and all its inputs, are of this state.
                    ++$this->making;
                    try {
                        $kept = ['stamp' => $this->stamp, 'at' => $this->clock->now()->getTimestamp(), 'result' => $make()];
                    } finally {
                        --$this->making;
                    }
                    $this->pool->save($this->pool->getItem($name)->set($kept));
                }
            } finally {
                $lock->release();
            }
        }
        $this->behind = $this->behind || $kept['stamp'] !== $this->stamp;

        return $kept['result'];
    }

    /** @return array{stamp: string, at: int, result: mixed}|null a cached value that is new enough */
    private function load(string $name): ?array
    {
        $kept = $this->pool->getItem($name)->get();
        if (
            !\is_array($kept)
            || !\is_string($kept['stamp'] ?? null)
            || !\is_int($kept['at'] ?? null)
            || !\array_key_exists('result', $kept)
        ) {
            return null;
        }
        $isOfThisState = '' !== $this->stamp && $kept['stamp'] === $this->stamp;

        $willDo = 0 === $this->making && $kept['at'] > $this->clock->now()->getTimestamp() - $this->patient;

        return $isOfThisState || $willDo
            ? ['stamp' => $kept['stamp'], 'at' => $kept['at'], 'result' => $kept['result']]
            : null;
    }
}
