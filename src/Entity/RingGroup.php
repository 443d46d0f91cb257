<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A number that rings several. */
#[ORM\Entity]
#[ORM\Table(name: 'ring_group')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class RingGroup extends Record
{
    #[ORM\Column(name: 'number_text', type: 'string', length: 190, nullable: true)]
    public ?string $number = null;

    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'pbx', type: 'string', length: 190, nullable: true)]
    public ?string $pbx = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'members', type: 'json', nullable: true)]
    public ?array $members = null;

    #[ORM\Column(name: 'order_text', type: 'string', length: 190, nullable: true)]
    public ?string $order = null;

    #[ORM\Column(name: 'seconds', type: 'integer', nullable: true)]
    public ?int $seconds = null;

    #[ORM\Column(name: 'otherwise', type: 'string', length: 190, nullable: true)]
    public ?string $otherwise = null;
}
