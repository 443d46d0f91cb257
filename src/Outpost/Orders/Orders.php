<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Orders;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Vorhut\Core\Plan\Row;
use Vorhut\Entity\Job;
use Vorhut\Entity\WorkOrder;

/**
 * Work for the outpost. A process that claims an order has it for a limited time, renewed with every sign of life; orders of a process that
 * died are claimed by another, and those of a running one are not.
 */
final readonly class Orders
{
    /** How long a claim holds without a sign of life. */
    public const CLAIM_SECONDS = 90;

    public function __construct(private EntityManagerInterface $manager, private ClockInterface $clock)
    {
    }

    /** @param array<string, mixed> $what */
    public function give(Job $job, string $kind, array $what, string $by, ?int $outpost = null): WorkOrder
    {
        $order = new WorkOrder($job, $kind, $what, $by, $outpost);
        $this->manager->persist($order);
        $this->manager->flush();

        return $order;
    }

    /** @param int|null $outpost only orders for that outpost; null for orders without an outpost */
    public function claim(OrderOwner|string $by, ?int $outpost = null): ?WorkOrder
    {
        $connection = $this->manager->getConnection();
        $now = $this->clock->now();
        $id = $connection->transactional(static function () use ($connection, $now, $by, $outpost): ?int {
            $id = $connection->fetchOne(
                "SELECT id FROM work_order WHERE kind IN ('prove', 'write', 'sweep', 'refetch') AND (state = 'waiting' "
                    ."OR (state = 'claimed' AND claimed_at < ?)) "
                    .'AND outpost_id <=> ? ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED',
                [$now->modify('-'.self::CLAIM_SECONDS.' seconds')->format(\DATE_ATOM), $outpost],
            );
            if (!is_numeric($id)) {
                return null;
            }
            $connection->executeStatement(
                "UPDATE work_order SET state = 'claimed', claimed_at = ?, claimed_by = ? WHERE id = ?",
                [$now->format(\DATE_ATOM), (string) $by, $id],
            );

            return (int) $id;
        });

        return null === $id ? null : $this->manager->find(WorkOrder::class, $id);
    }

    /** A sign of life. @return bool whether the order is still the claimer's */
    public function holds(int $order, OrderOwner|string $by): bool
    {
        $connection = $this->manager->getConnection();
        $mine = [$order, (string) $by];
        $connection->executeStatement(
            "UPDATE work_order SET claimed_at = ? WHERE id = ? AND claimed_by = ? AND state = 'claimed'",
            [$this->clock->now()->format(\DATE_ATOM), ...$mine],
        );

        return false !== $connection->fetchOne("SELECT 1 FROM work_order WHERE id = ? AND claimed_by = ? AND state = 'claimed'", $mine);
    }

    /** A worker that starts takes over the orders of processes known to be gone. @return int number of orders */
    public function requeue(): int
    {
        $connection = $this->manager->getConnection();
        $taken = 0;
        foreach ($connection->fetchAllAssociative(
            "SELECT id, claimed_by FROM work_order WHERE state = 'claimed' AND kind IN (?)",
            [WorkOrder::RESUMED],
            [ArrayParameterType::STRING],
        ) as $row) {
            $by = \is_string($row['claimed_by']) ? $row['claimed_by'] : '';
            // Orders claimed by an older version have no process name; there was one worker then.
            if ('' === $by || true === OrderOwner::tryFromString($by)?->isGone()) {
                $taken += (int) $connection->executeStatement(
                    "UPDATE work_order SET state = 'waiting', claimed_by = NULL WHERE id = ? AND state = 'claimed' "
                        ."AND COALESCE(claimed_by, '') = ?",
                    [$row['id'], $by],
                );
            }
        }

        return $taken;
    }

    /** How far it has come; a sign of life as well. @return bool whether the order is still the claimer's */
    public function tell(int $order, OrderOwner|string $by, string $said): bool
    {
        $this->manager->getConnection()->executeStatement(
            "UPDATE work_order SET result = ? WHERE id = ? AND claimed_by = ? AND state = 'claimed'",
            [$said, $order, (string) $by],
        );

        return $this->holds($order, $by);
    }

    /** Orders that another process has taken over are not ended. */
    public function end(int $order, OrderOwner|string $by, bool $well, string $result): void
    {
        $this->manager->getConnection()->executeStatement(
            'UPDATE work_order SET state = ?, result = ? WHERE id = ? AND claimed_by = ?',
            [$well ? 'done' : 'failed', $result, $order, (string) $by],
        );
    }

    public function find(int $order): ?WorkOrder
    {
        return $this->manager->find(WorkOrder::class, $order);
    }

    /** @return list<WorkOrder> */
    public function open(Job $job): array
    {
        return $this->manager->getRepository(WorkOrder::class)->findBy(['job' => $job, 'state' => ['waiting', 'claimed']], ['id' => 'ASC']);
    }

    /**
     * Orders of a kind that failed and that no other has made good since: why, and whose they were. The newest first.
     *
     * @return list<array{by: string, why: string}>
     */
    public function failedOrders(Job $job, int $most = 3, string $kind = WorkOrder::PROVE): array
    {
        $failed = [];
        foreach ($this->manager->getConnection()->fetchAllAssociative(
            "SELECT ordered_by, result FROM work_order WHERE job_id = ? AND kind = ? AND state = 'failed' AND id > COALESCE(("
                ."SELECT MAX(id) FROM work_order WHERE job_id = ? AND kind = ? AND state = 'done'), 0) ORDER BY id DESC LIMIT ".$most,
            [$job->id, $kind, $job->id, $kind],
        ) as $row) {
            $row = new Row($row);
            $failed[] = ['by' => $row->text('ordered_by'), 'why' => $row->text('result')];
        }

        return $failed;
    }

    /** @return list<WorkOrder> the last orders of a kind, ended or not, the newest first */
    public function latest(Job $job, string $kind, int $most = 40): array
    {
        return $this->manager->getRepository(WorkOrder::class)->findBy(['job' => $job, 'kind' => $kind], ['id' => 'DESC'], $most);
    }

    /**
     * One order for each phone; sent twice is ordered once.
     *
     * @param list<string> $devices
     *
     * @return int how many are new
     */
    public function refetch(Job $job, array $devices, string $by): int
    {
        $waiting = [];
        foreach ($this->open($job) as $order) {
            if (WorkOrder::REFETCH === $order->kind && \is_string($order->what['device'] ?? null)) {
                $waiting[$order->what['device']] = true;
            }
        }
        $count = 0;
        foreach ($devices as $key) {
            if (!isset($waiting[$key])) {
                $this->manager->persist(new WorkOrder($job, WorkOrder::REFETCH, ['device' => $key], $by));
                ++$count;
            }
        }
        $this->manager->flush();

        return $count;
    }

    /** Cancels orders that were not started. @return int number of orders */
    public function callOff(Job $job, string $kind, string $by): int
    {
        return (int) $this->manager->getConnection()->executeStatement(
            "UPDATE work_order SET state = 'failed', result = ? WHERE job_id = ? AND kind = ? AND state = 'waiting'",
            ['Called off by '.$by.'.', $job->id, $kind],
        );
    }
}
