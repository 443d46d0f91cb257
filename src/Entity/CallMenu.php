<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A number at which one presses keys. */
#[ORM\Entity]
#[ORM\Table(name: 'call_menu')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class CallMenu extends Record
{
    #[ORM\Column(name: 'number_text', type: 'string', length: 190, nullable: true)]
    public ?string $number = null;

    #[ORM\Column(name: 'name', type: 'string', length: 255, nullable: true)]
    public ?string $name = null;

    #[ORM\Column(name: 'pbx', type: 'string', length: 190, nullable: true)]
    public ?string $pbx = null;

    #[ORM\Column(name: 'says', type: 'text', nullable: true)]
    public ?string $says = null;

    /** @var list<mixed>|null */
    #[ORM\Column(name: 'choices', type: 'json', nullable: true)]
    public ?array $choices = null;

    #[ORM\Column(name: 'seconds', type: 'integer', nullable: true)]
    public ?int $seconds = null;

    #[ORM\Column(name: 'otherwise', type: 'string', length: 190, nullable: true)]
    public ?string $otherwise = null;
}
