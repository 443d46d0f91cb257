<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;

/** Work for the outpost, one claim at a time; what a process that died had claimed is claimed again after a while. */
final readonly class Orders
{
    private const CLAIM_SECONDS = 90;

    public function __construct(private EntityManagerInterface $manager, private ClockInterface $clock)
    {
    }

    /** @param array<string, mixed> $what */
    public function give(Job $job, string $kind, array $what, string $by): WorkOrder
    {
        $order = new WorkOrder($job, $kind, $what, $by);
        $this->manager->persist($order);
        $this->manager->flush();

        return $order;
    }

    public function claim(): ?WorkOrder
    {
        $connection = $this->manager->getConnection();
        $now = $this->clock->now();
        $id = $connection->transactional(static function () use ($connection, $now): ?int {
            $id = $connection->fetchOne(
                "SELECT id FROM work_order WHERE kind IN ('prove', 'write') AND (state = 'waiting' OR (state = 'claimed' AND "
                    .'claimed_at < ?)) ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED',
                [$now->modify('-'.self::CLAIM_SECONDS.' seconds')->format(\DATE_ATOM)],
            );
            if (!is_numeric($id)) {
                return null;
            }
            $connection->executeStatement(
                "UPDATE work_order SET state = 'claimed', claimed_at = ? WHERE id = ?",
                [$now->format(\DATE_ATOM), $id],
            );

            return (int) $id;
        });

        return null === $id ? null : $this->manager->find(WorkOrder::class, $id);
    }

    /** A worker that starts takes up what its predecessor left: there is one worker to a database. */
    public function requeue(): int
    {
        return (int) $this->manager->getConnection()->executeStatement(
            "UPDATE work_order SET state = 'waiting' WHERE state = 'claimed' AND kind IN ('prove', 'write')",
        );
    }

    public function end(WorkOrder $order, bool $well, string $result): void
    {
        $this->manager->getConnection()->executeStatement(
            'UPDATE work_order SET state = ?, result = ? WHERE id = ?',
            [$well ? 'done' : 'failed', $result, $order->id],
        );
    }

    /** @return list<WorkOrder> */
    public function open(Job $job): array
    {
        return $this->manager->getRepository(WorkOrder::class)->findBy(['job' => $job, 'state' => ['waiting', 'claimed']], ['id' => 'ASC']);
    }

    /** @return list<WorkOrder> what was ordered last of a kind, ended or not, the newest first */
    public function latest(Job $job, string $kind, int $most = 40): array
    {
        return $this->manager->getRepository(WorkOrder::class)->findBy(['job' => $job, 'kind' => $kind], ['id' => 'DESC'], $most);
    }

    /** What nobody has begun yet is not done any more. @return int how many */
    public function callOff(Job $job, string $kind, string $by): int
    {
        return (int) $this->manager->getConnection()->executeStatement(
            "UPDATE work_order SET state = 'failed', result = ? WHERE job_id = ? AND kind = ? AND state = 'waiting'",
            ['Called off by '.$by.'.', $job->id, $kind],
        );
    }
}
