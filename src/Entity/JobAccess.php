<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** The role of a user in one job, whatever it is elsewhere: lead, technician, viewer, or none, without access. */
#[ORM\Entity]
#[ORM\Table(name: 'job_access')]
#[ORM\UniqueConstraint(columns: ['job_id', 'user_id'])]
class JobAccess
{
    public const NONE = 'none';

    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\ManyToOne(targetEntity: User::class)]
    #[ORM\JoinColumn(name: 'user_id', nullable: false, onDelete: 'CASCADE')]
    public User $user;

    #[ORM\Column(length: 32)]
    public string $role;

    public function __construct(Job $job, User $user, string $role)
    {
        $this->job = $job;
        $this->user = $user;
        $this->role = $role;
    }
}
