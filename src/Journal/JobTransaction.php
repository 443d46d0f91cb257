<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Vorhut\Entity\Job;

/** Writes to one job: two never run at the same time, and each moves the job's revision, so that open pages see it. */
final readonly class JobTransaction
{
    /** How often a write is tried that the database broke off because two waited for each other. */
    private const TRIES = 3;

    public function __construct(
        private EntityManagerInterface $manager,
    ) {
    }

    /**
     * @template T
     *
     * @param callable(Job): T $write gets the job as it stands under the lock
     *
     * @return T
     */
    public function run(Job $job, callable $write): mixed
    {
        $connection = $this->manager->getConnection();
        // Within another write of the job the whole of it would have to be tried again.
        $tries = $connection->isTransactionActive() ? 1 : self::TRIES;
        for ($try = 1;; ++$try) {
            $connection->beginTransaction();
            try {
                // After a rollback nothing is left in memory; the job is looked up anew.
                $job = $this->manager->contains($job)
                    ? $job
                    : $this->manager->find(Job::class, $job->id) ?? throw Refused::because('The job is gone.');
                $this->manager->refresh($job, LockMode::PESSIMISTIC_WRITE);
                $result = $write($job);
                ++$job->revision;
                $job->stamp = self::stamp();
                $this->manager->flush();
                $connection->commit();

                return $result;
            } catch (\Throwable $e) {
                $connection->rollBack();
                // A half-applied change must not stay in memory either.
                $this->manager->clear();
                if (!$e instanceof RetryableException || $tries <= $try) {
                    throw $e;
                }
            }
        }
    }

    /** A new stamp of a job: results cached under the old one expire. */
    public static function stamp(): string
    {
        return bin2hex(random_bytes(8));
    }
}
