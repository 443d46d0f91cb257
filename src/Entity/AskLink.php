<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A link for the administrator of a network to answer without a login: one job, only its questions, for a limited time. */
#[ORM\Entity]
#[ORM\Table(name: 'ask_link')]
#[ORM\UniqueConstraint(columns: ['token_hash'])]
class AskLink
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    /** The link itself is shown once and kept nowhere. */
    #[ORM\Column(name: 'token_hash', length: 64)]
    public string $tokenHash;

    #[ORM\Column(length: 190)]
    public string $madeBy;

    #[ORM\Column(length: 40)]
    public string $madeAt;

    #[ORM\Column(length: 40)]
    public string $until;

    #[ORM\Column]
    public bool $revoked = false;

    public function __construct(Job $job, string $tokenHash, string $madeBy, string $madeAt, string $until)
    {
        $this->job = $job;
        $this->tokenHash = $tokenHash;
        $this->madeBy = $madeBy;
        $this->madeAt = $madeAt;
        $this->until = $until;
    }
}
