<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** One box of the kit list. */
#[ORM\Entity]
#[ORM\Table(name: 'device')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class Device extends Record
{
    #[ORM\Column(name: 'tag', type: 'string', length: 255, nullable: true)]
    public ?string $tag = null;

    #[ORM\Column(name: 'kind', type: 'string', length: 190, nullable: true)]
    public ?string $kind = null;

    #[ORM\Column(name: 'room', type: 'string', length: 255, nullable: true)]
    public ?string $room = null;

    #[ORM\Column(name: 'serial', type: 'string', length: 255, nullable: true)]
    public ?string $serial = null;

    #[ORM\Column(name: 'controlled_from', type: 'string', length: 190, nullable: true)]
    public ?string $controlledFrom = null;

    #[ORM\Column(name: 'filter_default', type: 'string', length: 190, nullable: true)]
    public ?string $filterDefault = null;

    #[ORM\Column(name: 'stateful', type: 'boolean', nullable: true)]
    public ?bool $stateful = null;

    #[ORM\Column(name: 'filter_same_interface', type: 'string', length: 190, nullable: true)]
    public ?string $filterSameInterface = null;

    #[ORM\Column(name: 'arrives', type: 'string', length: 255, nullable: true)]
    public ?string $arrives = null;

    #[ORM\Column(name: 'label_address', type: 'string', length: 190, nullable: true)]
    public ?string $labelAddress = null;

    #[ORM\Column(name: 'label_mask', type: 'string', length: 190, nullable: true)]
    public ?string $labelMask = null;

    #[ORM\Column(name: 'label_user', type: 'string', length: 255, nullable: true)]
    public ?string $labelUser = null;

    #[ORM\Column(name: 'label_host_name', type: 'string', length: 190, nullable: true)]
    public ?string $labelHostName = null;

    #[ORM\Column(name: 'place', type: 'integer', nullable: true)]
    public ?int $position = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
