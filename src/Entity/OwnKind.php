<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A kind of device as this job has it: one of its own, or one that ships, said differently. */
#[ORM\Entity]
#[ORM\Table(name: 'own_kind')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class OwnKind extends Record
{
    #[ORM\Column(name: 'source', type: 'text', nullable: true)]
    public ?string $source = null;

    #[ORM\Column(name: 'version', type: 'integer', nullable: true)]
    public ?int $version = null;

    #[ORM\Column(name: 'taken_from', type: 'string', length: 255, nullable: true)]
    public ?string $takenFrom = null;
}
