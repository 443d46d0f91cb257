<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a setting holds: planned, set, seen, each with who and when; its key is the one address of the setting. */
#[ORM\Entity]
#[ORM\Table(name: 'setting_value')]
#[ORM\UniqueConstraint(columns: ['job_id', 'record_key'])]
class SettingValue extends Record
{
    #[ORM\Column(name: 'planned_value', type: 'string', length: 500, nullable: true)]
    public ?string $planned = null;

    #[ORM\Column(name: 'planned_by', type: 'string', length: 255, nullable: true)]
    public ?string $plannedBy = null;

    #[ORM\Column(name: 'planned_at', type: 'string', length: 190, nullable: true)]
    public ?string $plannedAt = null;

    #[ORM\Column(name: 'set_value', type: 'string', length: 500, nullable: true)]
    public ?string $set = null;

    #[ORM\Column(name: 'set_by', type: 'string', length: 255, nullable: true)]
    public ?string $setBy = null;

    #[ORM\Column(name: 'set_at', type: 'string', length: 190, nullable: true)]
    public ?string $setAt = null;

    #[ORM\Column(name: 'seen_value', type: 'string', length: 500, nullable: true)]
    public ?string $seen = null;

    #[ORM\Column(name: 'odd_value', type: 'string', length: 500, nullable: true)]
    public ?string $odd = null;

    #[ORM\Column(name: 'seen_by', type: 'string', length: 255, nullable: true)]
    public ?string $seenBy = null;

    #[ORM\Column(name: 'seen_at', type: 'string', length: 190, nullable: true)]
    public ?string $seenAt = null;
}
