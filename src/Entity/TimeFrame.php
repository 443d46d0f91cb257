<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A time frame with a name. */
#[ORM\Entity]
#[ORM\Table(name: 'time_frame')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class TimeFrame extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'when_text', type: 'text', nullable: true)]
    public ?string $when = null;
}
