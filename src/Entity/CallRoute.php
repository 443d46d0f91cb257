<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Maps dialled digits to trunks. */
#[ORM\Entity]
#[ORM\Table(name: 'call_route')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class CallRoute extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'pbx', type: 'string', length: 190, nullable: true)]
    public ?string $pbx = null;

    #[ORM\Column(name: 'place', type: 'integer', nullable: true)]
    public ?int $position = null;

    #[ORM\Column(name: 'map_text', type: 'text', nullable: true)]
    public ?string $map = null;

    #[ORM\Column(name: 'callers', type: 'text', nullable: true)]
    public ?string $callers = null;

    #[ORM\Column(name: 'needs', type: 'string', length: 190, nullable: true)]
    public ?string $needs = null;

    #[ORM\Column(name: 'time_frame', type: 'string', length: 190, nullable: true)]
    public ?string $timeFrame = null;

    #[ORM\Column(name: 'strip', type: 'integer', nullable: true)]
    public ?int $strip = null;

    #[ORM\Column(name: 'prepend', type: 'string', length: 190, nullable: true)]
    public ?string $prepend = null;

    #[ORM\Column(name: 'trunk', type: 'string', length: 190, nullable: true)]
    public ?string $trunk = null;

    #[ORM\Column(name: 'trunk_2', type: 'string', length: 190, nullable: true)]
    public ?string $trunk2 = null;

    #[ORM\Column(name: 'trunk_3', type: 'string', length: 190, nullable: true)]
    public ?string $trunk3 = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
