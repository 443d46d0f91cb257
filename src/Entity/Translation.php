<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a router rewrites between inside and outside. */
#[ORM\Entity]
#[ORM\Table(name: 'translation')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Translation extends Record
{
    #[ORM\Column(name: 'router', type: 'string', length: 190, nullable: true)]
    public ?string $router = null;

    #[ORM\Column(name: 'outside', type: 'string', length: 190, nullable: true)]
    public ?string $outside = null;

    #[ORM\Column(name: 'what', type: 'string', length: 190, nullable: true)]
    public ?string $what = null;

    #[ORM\Column(name: 'place', type: 'integer', nullable: true)]
    public ?int $position = null;

    #[ORM\Column(name: 'address', type: 'string', length: 190, nullable: true)]
    public ?string $address = null;

    #[ORM\Column(name: 'inside', type: 'string', length: 190, nullable: true)]
    public ?string $inside = null;

    #[ORM\Column(name: 'transport', type: 'string', length: 190, nullable: true)]
    public ?string $transport = null;

    #[ORM\Column(name: 'port_first', type: 'integer', nullable: true)]
    public ?int $portFirst = null;

    #[ORM\Column(name: 'port_last', type: 'integer', nullable: true)]
    public ?int $portLast = null;

    #[ORM\Column(name: 'inside_port', type: 'integer', nullable: true)]
    public ?int $insidePort = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
