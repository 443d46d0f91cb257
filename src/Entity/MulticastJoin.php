<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A device that listens to a group. */
#[ORM\Entity]
#[ORM\Table(name: 'multicast_join')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class MulticastJoin extends Record
{
    #[ORM\Column(name: 'group_key', type: 'string', length: 190, nullable: true)]
    public ?string $group = null;

    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;
}
