<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** One more terminal of a number. */
#[ORM\Entity]
#[ORM\Table(name: 'terminal')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Terminal extends Record
{
    #[ORM\Column(name: 'extension', type: 'string', length: 190, nullable: true)]
    public ?string $extension = null;

    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'mac_entered', type: 'string', length: 190, nullable: true)]
    public ?string $macEntered = null;

    #[ORM\Column(name: 'entered_at', type: 'string', length: 190, nullable: true)]
    public ?string $enteredAt = null;
}
