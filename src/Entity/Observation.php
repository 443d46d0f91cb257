<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a probe or a person found. */
#[ORM\Entity]
#[ORM\Table(name: 'observation')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
#[ORM\Index(columns: ['job_id', 'test_key'])]
#[ORM\Index(name: 'observation_arrived', columns: ['job_id', 'arrived'])]
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

    #[ORM\Column(name: 'arrived', type: 'integer', nullable: true)]
    public ?int $arrived = null;

    #[ORM\Column(name: 'on_site', type: 'boolean', nullable: true)]
    public ?bool $onSite = null;

    #[ORM\Column(name: 'outpost', type: 'string', length: 255, nullable: true)]
    public ?string $outpost = null;

    #[ORM\Column(name: 'adapter', type: 'string', length: 255, nullable: true)]
    public ?string $adapter = null;

    #[ORM\Column(name: 'address', type: 'string', length: 190, nullable: true)]
    public ?string $address = null;

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
