<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Cache\CacheItemPoolInterface;
use Vorhut\Core\Analysis\Kept;
use Vorhut\Entity\Job;

/**
 * Results of a job's analysis, kept for all web processes until the job changes: one place for each part, so that nothing heaps up. The
 * job's token is in the name, because a database that is made anew counts from one again.
 */
final readonly class KeptByRevision implements Kept
{
    private string $token;
    private int $revision;

    /** @param Job $job as it is before its snapshot is read: what is newer than its revision is computed again, never the other way */
    public function __construct(private CacheItemPoolInterface $pool, Job $job)
    {
        $this->token = $job->fileToken;
        $this->revision = $job->revision;
    }

    public function get(string $part, \Closure $make): mixed
    {
        $item = $this->pool->getItem('analysis.'.$this->token.'.'.$part);
        $kept = $item->isHit() ? $item->get() : null;
        if (\is_array($kept) && ($kept['revision'] ?? null) === $this->revision && \array_key_exists('result', $kept)) {
            return $kept['result'];
        }
        $result = $make();
        $this->pool->save($item->set(['revision' => $this->revision, 'result' => $result]));

        return $result;
    }
}
