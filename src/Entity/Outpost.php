<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A machine that tests from a segment of a job: paired by a short code, known by a token of its own, which can be revoked. */
#[ORM\Entity]
#[ORM\Table(name: 'outpost')]
#[ORM\UniqueConstraint(columns: ['token_hash'])]
class Outpost
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\Column(length: 80)]
    public string $name = '';

    /** Of the code, until it is paired. */
    #[ORM\Column(name: 'code_hash', length: 64, nullable: true)]
    public ?string $codeHash = null;

    #[ORM\Column(name: 'code_until', length: 40, nullable: true)]
    public ?string $codeUntil = null;

    #[ORM\Column(name: 'token_hash', length: 64, nullable: true)]
    public ?string $tokenHash = null;

    #[ORM\Column(length: 190)]
    public string $madeBy;

    #[ORM\Column(name: 'seen_at', length: 40, nullable: true)]
    public ?string $seenAt = null;

    /** @var list<array{name: string, address: string}> */
    #[ORM\Column(type: 'json')]
    public array $adapters = [];

    #[ORM\Column]
    public bool $revoked = false;

    public function __construct(Job $job, string $madeBy)
    {
        $this->job = $job;
        $this->madeBy = $madeBy;
    }
}
