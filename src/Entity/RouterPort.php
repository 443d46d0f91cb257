<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A router's interface on a segment. */
#[ORM\Entity]
#[ORM\Table(name: 'router_port')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class RouterPort extends Record
{
    #[ORM\Column(name: 'router', type: 'string', length: 190, nullable: true)]
    public ?string $router = null;

    #[ORM\Column(name: 'segment', type: 'string', length: 190, nullable: true)]
    public ?string $segment = null;

    #[ORM\Column(name: 'address', type: 'string', length: 190, nullable: true)]
    public ?string $address = null;

    #[ORM\Column(name: 'mask', type: 'string', length: 190, nullable: true)]
    public ?string $mask = null;

    #[ORM\Column(name: 'proxy_arp', type: 'boolean', nullable: true)]
    public ?bool $proxyArp = null;

    #[ORM\Column(name: 'multicast', type: 'boolean', nullable: true)]
    public ?bool $multicast = null;

    #[ORM\Column(name: 'address6', type: 'string', length: 190, nullable: true)]
    public ?string $address6 = null;

    #[ORM\Column(name: 'local6', type: 'string', length: 190, nullable: true)]
    public ?string $local6 = null;
}
