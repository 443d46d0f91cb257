<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Psr\Cache\CacheItemPoolInterface;
use Vorhut\Core\Analysis\Kept;
use Vorhut\Entity\Job;

/**
 * Results of a job's analysis, kept for all web processes until the job changes: one place for each part, so that nothing heaps up. They
 * are of the state that the job's stamp names: a revision alone would count from one again in a database that is made anew or put back.
 */
final readonly class KeptByRevision implements Kept
{
    private string $token;
    private string $stamp;

    /** @param Job $job as it is before its snapshot is read: what is newer than its stamp is computed again, never the other way */
    public function __construct(private CacheItemPoolInterface $pool, Job $job)
    {
        $this->token = $job->fileToken;
        $this->stamp = $job->stamp;
    }

    public function get(string $part, \Closure $make): mixed
    {
        $item = $this->pool->getItem('analysis.'.$this->token.'.'.$part);
        $kept = $item->isHit() ? $item->get() : null;
        if (\is_array($kept) && '' !== $this->stamp && ($kept['stamp'] ?? null) === $this->stamp && \array_key_exists('result', $kept)) {
            return $kept['result'];
        }
        $result = $make();
        $this->pool->save($item->set(['stamp' => $this->stamp, 'result' => $result]));

        return $result;
    }
}
