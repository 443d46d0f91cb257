<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Doctrine\DBAL\Exception as DatabaseError;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;

/**
 * The database as a process that runs for weeks sees it: it may be away for a while, and comes back. What failed closes the manager; it is
 * open again before the next look.
 */
final class Outage
{
    private bool $isAway = false;

    public function __construct(private readonly ManagerRegistry $managers)
    {
    }

    /** @return string|null what there is to say: that the database went away, once, or what else went wrong */
    public function report(\Throwable $e): ?string
    {
        $this->afresh();
        if (!$e instanceof DatabaseError && !$e instanceof \PDOException) {
            return $e::class.': '.$e->getMessage();
        }
        // Another query does not repair a broken connection; the next check opens another.
        $this->manager()->getConnection()->close();
        $isNews = !$this->isAway;
        $this->isAway = true;

        return $isNews ? 'The database does not answer; waiting for it. '.$e->getMessage() : null;
    }

    /** @return string|null that it is there again, once */
    public function isOver(): ?string
    {
        $was = $this->isAway;
        $this->isAway = false;

        return $was ? 'The database answers again.' : null;
    }

    /** All state of earlier checks is cleared; connections closed by a failure are open again. */
    public function afresh(): void
    {
        $manager = $this->manager();
        if ($manager->isOpen()) {
            $manager->clear();
        } else {
            $this->managers->resetManager();
        }
    }

    private function manager(): EntityManagerInterface
    {
        $manager = $this->managers->getManager();

        return $manager instanceof EntityManagerInterface ? $manager : throw new \LogicException('This is not an entity manager.');
    }
}
