<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What became of a step of a run sheet. */
#[ORM\Entity]
#[ORM\Table(name: 'mark')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Mark extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'step', type: 'string', length: 255, nullable: true)]
    public ?string $step = null;

    #[ORM\Column(name: 'state', type: 'string', length: 190, nullable: true)]
    public ?string $state = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;

    #[ORM\Column(name: 'made_by', type: 'string', length: 255, nullable: true)]
    public ?string $by = null;

    #[ORM\Column(name: 'made_at', type: 'string', length: 190, nullable: true)]
    public ?string $at = null;

    #[ORM\Column(name: 'way', type: 'string', length: 255, nullable: true)]
    public ?string $way = null;
}
