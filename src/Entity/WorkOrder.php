<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * Work for the worker or the lab: run tests, write settings into a device, scan addresses, inject a fault. Claimed by one process at a
 * time; an order claimed by a process that died is claimed again.
 */
#[ORM\Entity]
#[ORM\Table(name: 'work_order')]
#[ORM\Index(columns: ['state', 'kind', 'id'])]
class WorkOrder
{
    public const PROVE = 'prove';
    public const WRITE = 'write';
    public const FAULT = 'fault';
    public const SWEEP = 'sweep';
    public const REFETCH = 'refetch';
    /** What a worker takes up again when the one that had it is gone; a fault was injected or it was not. */
    public const RESUMED = [self::PROVE, self::WRITE, self::SWEEP, self::REFETCH];

    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne]
    #[ORM\JoinColumn(nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\Column(length: 16)]
    public string $kind;

    /** @var array<string, mixed> */
    #[ORM\Column(type: 'json')]
    public array $what;

    #[ORM\Column(length: 190)]
    public string $orderedBy;

    /** waiting, claimed, done or failed */
    #[ORM\Column(length: 16)]
    public string $state = 'waiting';

    #[ORM\Column(length: 40, nullable: true)]
    public ?string $claimedAt = null;

    /** Which process has it in hand. */
    #[ORM\Column(length: 120, nullable: true)]
    public ?string $claimedBy = null;

    #[ORM\Column(type: 'text', nullable: true)]
    public ?string $result = null;

    /** The outpost it is for; null for the worker on the server. */
    #[ORM\Column(name: 'outpost_id', nullable: true)]
    public ?int $outpost = null;

    /** @param array<string, mixed> $what */
    public function __construct(Job $job, string $kind, array $what, string $orderedBy, ?int $outpost = null)
    {
        $this->outpost = $outpost;
        $this->job = $job;
        $this->kind = $kind;
        $this->what = $what;
        $this->orderedBy = $orderedBy;
    }
}
