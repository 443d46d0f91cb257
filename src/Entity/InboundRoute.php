<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Where a call goes that comes in. */
#[ORM\Entity]
#[ORM\Table(name: 'inbound_route')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class InboundRoute extends Record
{
    #[ORM\Column(name: 'trunk', type: 'string', length: 190, nullable: true)]
    public ?string $trunk = null;

    #[ORM\Column(name: 'place', type: 'integer', nullable: true)]
    public ?int $position = null;

    #[ORM\Column(name: 'map_text', type: 'text', nullable: true)]
    public ?string $map = null;

    #[ORM\Column(name: 'time_frame', type: 'string', length: 190, nullable: true)]
    public ?string $timeFrame = null;

    #[ORM\Column(name: 'to_number', type: 'string', length: 190, nullable: true)]
    public ?string $to = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
