<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A network on one wire. */
#[ORM\Entity]
#[ORM\Table(name: 'segment')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Segment extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'vlan', type: 'integer', nullable: true)]
    public ?int $vlan = null;

    #[ORM\Column(name: 'network', type: 'string', length: 190, nullable: true)]
    public ?string $network = null;

    #[ORM\Column(name: 'gateway', type: 'string', length: 190, nullable: true)]
    public ?string $gateway = null;

    #[ORM\Column(name: 'dns', type: 'string', length: 190, nullable: true)]
    public ?string $dns = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'fetch_from', type: 'json', nullable: true)]
    public ?array $fetchFrom = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'pools', type: 'json', nullable: true)]
    public ?array $pools = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'reserved', type: 'json', nullable: true)]
    public ?array $reserved = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'blocks', type: 'json', nullable: true)]
    public ?array $blocks = null;

    #[ORM\Column(name: 'dhcp', type: 'string', length: 190, nullable: true)]
    public ?string $dhcp = null;

    #[ORM\Column(name: 'wireless', type: 'boolean', nullable: true)]
    public ?bool $wireless = null;

    #[ORM\Column(name: 'snooping', type: 'string', length: 190, nullable: true)]
    public ?string $snooping = null;

    #[ORM\Column(name: 'querier', type: 'string', length: 190, nullable: true)]
    public ?string $querier = null;

    #[ORM\Column(name: 'outpost', type: 'string', length: 190, nullable: true)]
    public ?string $outpost = null;

    #[ORM\Column(name: 'voice', type: 'boolean', nullable: true)]
    public ?bool $voice = null;

    #[ORM\Column(name: 'pattern', type: 'integer', nullable: true)]
    public ?int $pattern = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;

    #[ORM\Column(name: 'network6', type: 'string', length: 190, nullable: true)]
    public ?string $network6 = null;

    #[ORM\Column(name: 'gateway6', type: 'string', length: 190, nullable: true)]
    public ?string $gateway6 = null;
}
