<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Addresses that are asked whether anybody is there. */
#[ORM\Entity]
#[ORM\Table(name: 'range_list')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class RangeList extends Record
{
    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'ranges', type: 'json', nullable: true)]
    public ?array $ranges = null;

    #[ORM\Column(name: 'from_end', type: 'string', length: 190, nullable: true)]
    public ?string $from = null;

    #[ORM\Column(name: 'port', type: 'string', length: 190, nullable: true)]
    public ?string $port = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
