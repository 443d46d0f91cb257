<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A line from a PBX to another party. */
#[ORM\Entity]
#[ORM\Table(name: 'trunk')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Trunk extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'pbx', type: 'string', length: 190, nullable: true)]
    public ?string $pbx = null;

    #[ORM\Column(name: 'far_end', type: 'string', length: 190, nullable: true)]
    public ?string $far = null;

    #[ORM\Column(name: 'address', type: 'string', length: 190, nullable: true)]
    public ?string $address = null;

    #[ORM\Column(name: 'port', type: 'integer', nullable: true)]
    public ?int $port = null;

    #[ORM\Column(name: 'transport', type: 'string', length: 190, nullable: true)]
    public ?string $transport = null;

    #[ORM\Column(name: 'registers', type: 'boolean', nullable: true)]
    public ?bool $registers = null;

    #[ORM\Column(name: 'user', type: 'string', length: 255, nullable: true)]
    public ?string $user = null;

    #[ORM\Column(name: 'channels', type: 'integer', nullable: true)]
    public ?int $channels = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'codecs', type: 'json', nullable: true)]
    public ?array $codecs = null;

    #[ORM\Column(name: 'caller_id', type: 'string', length: 190, nullable: true)]
    public ?string $callerId = null;

    #[ORM\Column(name: 'emergency', type: 'boolean', nullable: true)]
    public ?bool $emergency = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
