<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A licence, a key or an unlock of a device: ordered, there, or running out. */
#[ORM\Entity]
#[ORM\Table(name: 'licence')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Licence extends Record
{
    #[ORM\Column(name: 'device', type: 'string', length: 190, nullable: true)]
    public ?string $device = null;

    #[ORM\Column(name: 'feature', type: 'string', length: 255, nullable: true)]
    public ?string $feature = null;

    #[ORM\Column(name: 'quantity', type: 'integer', nullable: true)]
    public ?int $quantity = null;

    #[ORM\Column(name: 'hardware_id', type: 'string', length: 255, nullable: true)]
    public ?string $hardwareId = null;

    #[ORM\Column(name: 'ordered_on', type: 'string', length: 190, nullable: true)]
    public ?string $orderedOn = null;

    #[ORM\Column(name: 'arrived_on', type: 'string', length: 190, nullable: true)]
    public ?string $arrivedOn = null;

    #[ORM\Column(name: 'valid_from', type: 'string', length: 190, nullable: true)]
    public ?string $validFrom = null;

    #[ORM\Column(name: 'valid_until', type: 'string', length: 190, nullable: true)]
    public ?string $validUntil = null;

    #[ORM\Column(name: 'temporary', type: 'boolean', nullable: true)]
    public ?bool $temporary = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
