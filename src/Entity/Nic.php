<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A network interface of a device. */
#[ORM\Entity]
#[ORM\Table(name: 'nic')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Nic extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'mac', type: 'string', length: 190, nullable: true)]
    public ?string $mac = null;

    #[ORM\Column(name: 'segment', type: 'string', length: 190, nullable: true)]
    public ?string $segment = null;

    #[ORM\Column(name: 'address_mode', type: 'string', length: 190, nullable: true)]
    public ?string $mode = null;

    /** @var list<string>|null */
    #[ORM\Column(name: 'also', type: 'json', nullable: true)]
    public ?array $also = null;

    #[ORM\Column(name: 'locked', type: 'boolean', nullable: true)]
    public ?bool $locked = null;

    #[ORM\Column(name: 'address6', type: 'string', length: 190, nullable: true)]
    public ?string $address6 = null;

    #[ORM\Column(name: 'gateway6', type: 'string', length: 190, nullable: true)]
    public ?string $gateway6 = null;
}
