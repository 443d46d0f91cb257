<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** The certificate under which a job's files are handed out, and the keys to it: sealed, in no document and in no journal. */
#[ORM\Entity]
#[ORM\Table(name: 'file_certificate')]
class FileCertificate
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\OneToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    /** As the server shows it, in PEM: its own first. */
    #[ORM\Column(type: 'text')]
    public string $chain = '';

    /** Sealed; its key in PEM. */
    #[ORM\Column(name: 'key_sealed', type: 'text')]
    public string $keySealed = '';

    /** What phones are to know, in PEM. */
    #[ORM\Column(type: 'text')]
    public string $authority = '';

    /** Sealed; null if another authority signs. */
    #[ORM\Column(name: 'authority_key_sealed', type: 'text', nullable: true)]
    public ?string $authorityKeySealed = null;

    public function __construct(Job $job)
    {
        $this->job = $job;
    }
}
