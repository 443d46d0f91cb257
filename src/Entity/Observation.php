<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a probe or a person found. */
#[ORM\Entity]
#[ORM\Table(name: 'observation')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
#[ORM\Index(columns: ['job_id', 'test_key'])]
class Observation extends Record
{
    #[ORM\Column(name: 'test_key', type: 'string', length: 255, nullable: true)]
    public ?string $test = null;

    #[ORM\Column(name: 'made_at', type: 'string', length: 190, nullable: true)]
    public ?string $at = null;

    #[ORM\Column(name: 'made_by', type: 'string', length: 255, nullable: true)]
    public ?string $by = null;

    #[ORM\Column(name: 'from_end', type: 'string', length: 255, nullable: true)]
    public ?string $from = null;

    #[ORM\Column(name: 'outcome', type: 'string', length: 255, nullable: true)]
    public ?string $outcome = null;

    /** @var list<mixed>|string|null */
    #[ORM\Column(name: 'detail', type: 'json', nullable: true)]
    public array|string|null $detail = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'basis', type: 'json', nullable: true)]
    public ?array $basis = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'evidence', type: 'json', nullable: true)]
    public ?array $evidence = null;
}
