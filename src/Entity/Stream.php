<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Pictures or sound from one device to others. */
#[ORM\Entity]
#[ORM\Table(name: 'stream')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Stream extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'sender', type: 'string', length: 190, nullable: true)]
    public ?string $sender = null;

    #[ORM\Column(name: 'transport', type: 'string', length: 190, nullable: true)]
    public ?string $transport = null;

    #[ORM\Column(name: 'cast_text', type: 'string', length: 190, nullable: true)]
    public ?string $cast = null;

    #[ORM\Column(name: 'group_key', type: 'string', length: 190, nullable: true)]
    public ?string $group = null;

    #[ORM\Column(name: 'group_port', type: 'integer', nullable: true)]
    public ?int $port = null;

    #[ORM\Column(name: 'outside', type: 'boolean', nullable: true)]
    public ?bool $outside = null;

    #[ORM\Column(name: 'codec', type: 'string', length: 190, nullable: true)]
    public ?string $codec = null;

    #[ORM\Column(name: 'width', type: 'integer', nullable: true)]
    public ?int $width = null;

    #[ORM\Column(name: 'height', type: 'integer', nullable: true)]
    public ?int $height = null;

    #[ORM\Column(name: 'frame_rate', type: 'integer', nullable: true)]
    public ?int $frameRate = null;

    #[ORM\Column(name: 'kbit', type: 'integer', nullable: true)]
    public ?int $kbit = null;

    #[ORM\Column(name: 'channels', type: 'integer', nullable: true)]
    public ?int $channels = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
