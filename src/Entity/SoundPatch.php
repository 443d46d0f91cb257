<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Channels of sound from one device to another. */
#[ORM\Entity]
#[ORM\Table(name: 'sound_patch')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class SoundPatch extends Record
{
    #[ORM\Column(name: 'name', type: 'text', nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'from_device', type: 'string', length: 190, nullable: true)]
    public ?string $from = null;

    #[ORM\Column(name: 'from_channel', type: 'integer', nullable: true)]
    public ?int $fromChannel = null;

    #[ORM\Column(name: 'to_device', type: 'string', length: 190, nullable: true)]
    public ?string $to = null;

    #[ORM\Column(name: 'to_channel', type: 'integer', nullable: true)]
    public ?int $toChannel = null;

    #[ORM\Column(name: 'channel_count', type: 'integer', nullable: true)]
    public ?int $count = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
