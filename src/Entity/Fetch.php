<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A phone that asked for its file. */
#[ORM\Entity]
#[ORM\Table(name: 'file_fetch')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
#[ORM\Index(name: 'file_fetch_arrived', columns: ['job_id', 'arrived'])]
class Fetch extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'mac', type: 'string', length: 190, nullable: true)]
    public ?string $mac = null;

    #[ORM\Column(name: 'made_at', type: 'string', length: 190, nullable: true)]
    public ?string $at = null;

    #[ORM\Column(name: 'address', type: 'string', length: 255, nullable: true)]
    public ?string $address = null;

    #[ORM\Column(name: 'agent', type: 'string', length: 255, nullable: true)]
    public ?string $agent = null;

    #[ORM\Column(name: 'file_version', type: 'string', length: 255, nullable: true)]
    public ?string $file = null;

    #[ORM\Column(name: 'status', type: 'integer', nullable: true)]
    public ?int $status = null;

    /** @var list<mixed>|string|null why it was given nothing */
    #[ORM\Column(name: 'why', type: 'json', nullable: true)]
    public array|string|null $why = null;

    #[ORM\Column(name: 'arrived', type: 'integer', nullable: true)]
    public ?int $arrived = null;

    #[ORM\Column(name: 'on_site', type: 'boolean', nullable: true)]
    public ?bool $onSite = null;
}
