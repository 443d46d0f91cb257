<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A wait of a step that runs. */
#[ORM\Entity]
#[ORM\Table(name: 'step_wait')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Wait extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'step', type: 'string', length: 255, nullable: true)]
    public ?string $step = null;

    #[ORM\Column(name: 'made_at', type: 'string', length: 190, nullable: true)]
    public ?string $at = null;

    #[ORM\Column(name: 'seconds', type: 'integer', nullable: true)]
    public ?int $seconds = null;

    #[ORM\Column(name: 'made_by', type: 'string', length: 255, nullable: true)]
    public ?string $by = null;
}
