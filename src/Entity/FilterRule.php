<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A rule of a router's filter. */
#[ORM\Entity]
#[ORM\Table(name: 'filter_rule')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class FilterRule extends Record
{
    #[ORM\Column(name: 'router', type: 'string', length: 190, nullable: true)]
    public ?string $router = null;

    #[ORM\Column(name: 'place', type: 'integer', nullable: true)]
    public ?int $position = null;

    #[ORM\Column(name: 'from_end', type: 'string', length: 190, nullable: true)]
    public ?string $from = null;

    #[ORM\Column(name: 'to_end', type: 'string', length: 190, nullable: true)]
    public ?string $to = null;

    #[ORM\Column(name: 'transport', type: 'string', length: 190, nullable: true)]
    public ?string $transport = null;

    #[ORM\Column(name: 'port_first', type: 'integer', nullable: true)]
    public ?int $portFirst = null;

    #[ORM\Column(name: 'port_last', type: 'integer', nullable: true)]
    public ?int $portLast = null;

    /** @var list<string>|null */
    #[ORM\Column(name: 'from_addresses', type: 'json', nullable: true)]
    public ?array $fromAddresses = null;

    /** @var list<string>|null */
    #[ORM\Column(name: 'to_addresses', type: 'json', nullable: true)]
    public ?array $toAddresses = null;

    #[ORM\Column(name: 'action', type: 'string', length: 190, nullable: true)]
    public ?string $action = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
