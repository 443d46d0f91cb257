<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A multicast stream. */
#[ORM\Entity]
#[ORM\Table(name: 'multicast_group')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class MulticastGroup extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'address', type: 'string', length: 190, nullable: true)]
    public ?string $address = null;

    #[ORM\Column(name: 'sender', type: 'string', length: 190, nullable: true)]
    public ?string $sender = null;

    #[ORM\Column(name: 'ttl', type: 'integer', nullable: true)]
    public ?int $ttl = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
