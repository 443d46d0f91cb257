<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A registration account at a registrar. */
#[ORM\Entity]
#[ORM\Table(name: 'account')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Account extends Record
{
    #[ORM\Column(name: 'extension', type: 'string', length: 190, nullable: true)]
    public ?string $extension = null;

    #[ORM\Column(name: 'registrar', type: 'string', length: 190, nullable: true)]
    public ?string $registrar = null;

    #[ORM\Column(name: 'user_name', type: 'string', length: 255, nullable: true)]
    public ?string $user = null;

    #[ORM\Column(name: 'mac_entered', type: 'string', length: 190, nullable: true)]
    public ?string $macEntered = null;

    #[ORM\Column(name: 'entered_at', type: 'string', length: 190, nullable: true)]
    public ?string $enteredAt = null;
}
