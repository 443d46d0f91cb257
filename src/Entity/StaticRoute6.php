<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A static route of a router for IPv6. */
#[ORM\Entity]
#[ORM\Table(name: 'static_route6')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class StaticRoute6 extends Record
{
    #[ORM\Column(name: 'router', type: 'string', length: 190, nullable: true)]
    public ?string $router = null;

    #[ORM\Column(name: 'destination', type: 'string', length: 190, nullable: true)]
    public ?string $destination = null;

    #[ORM\Column(name: 'via', type: 'string', length: 190, nullable: true)]
    public ?string $via = null;
}
