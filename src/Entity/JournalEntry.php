<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** One change of a job: who, when, why, and every edit with before and after. */
#[ORM\Entity]
#[ORM\Table(name: 'journal_entry')]
#[ORM\UniqueConstraint(columns: ['job_id', 'number'])]
class JournalEntry
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne]
    #[ORM\JoinColumn(nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\Column]
    public int $number = 0;

    #[ORM\Column(name: 'made_at', type: 'string', length: 40)]
    public string $at = '';

    #[ORM\Column(name: 'made_by', length: 190)]
    public string $by = '';

    /** Its user; null for a part of the program. */
    #[ORM\Column(length: 64, nullable: true)]
    public ?string $login = null;

    /** @var list<mixed>|string the change as a sentence: Message::stored() */
    #[ORM\Column(type: 'json')]
    public array|string $why = '';

    /** @var list<array<string, mixed>> */
    #[ORM\Column(type: 'json')]
    public array $edits = [];

    /** Number of the entry that this one takes back. */
    #[ORM\Column(nullable: true)]
    public ?int $undoes = null;
}
