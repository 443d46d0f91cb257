<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A test that a person added. */
#[ORM\Entity]
#[ORM\Table(name: 'added_test')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class AddedTest extends Record
{
    #[ORM\Column(name: 'what', type: 'string', length: 190, nullable: true)]
    public ?string $what = null;

    #[ORM\Column(name: 'from_end', type: 'string', length: 255, nullable: true)]
    public ?string $from = null;

    #[ORM\Column(name: 'to_end', type: 'string', length: 255, nullable: true)]
    public ?string $to = null;

    #[ORM\Column(name: 'port', type: 'string', length: 255, nullable: true)]
    public ?string $port = null;

    #[ORM\Column(name: 'requires', type: 'string', length: 190, nullable: true)]
    public ?string $requires = null;

    #[ORM\Column(name: 'note', type: 'text', nullable: true)]
    public ?string $note = null;
}
