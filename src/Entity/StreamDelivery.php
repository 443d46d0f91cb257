<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Who receives a stream. */
#[ORM\Entity]
#[ORM\Table(name: 'stream_delivery')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class StreamDelivery extends Record
{
    #[ORM\Column(name: 'stream_key', type: 'string', length: 190, nullable: true)]
    public ?string $stream = null;

    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;
}
