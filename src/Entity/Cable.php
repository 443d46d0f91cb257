<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A data cable. */
#[ORM\Entity]
#[ORM\Table(name: 'cable')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Cable extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'switch_key', type: 'string', length: 190, nullable: true)]
    public ?string $switch = null;

    #[ORM\Column(name: 'port', type: 'string', length: 255, nullable: true)]
    public ?string $port = null;

    #[ORM\Column(name: 'mbps', type: 'integer', nullable: true)]
    public ?int $mbps = null;

    #[ORM\Column(name: 'metres', type: 'integer', nullable: true)]
    public ?int $metres = null;

    #[ORM\Column(name: 'spare', type: 'boolean', nullable: true)]
    public ?bool $spare = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
