<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What an administrator answered, until the lead engineer takes it into the job or leaves it. */
#[ORM\Entity]
#[ORM\Table(name: 'ask_answer')]
#[ORM\UniqueConstraint(columns: ['job_id', 'code'])]
class AskAnswer
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    /** The field that it is for, as AdminQuestion::code() names it. */
    #[ORM\Column(length: 190)]
    public string $code;

    #[ORM\Column(name: 'answer', length: 400)]
    public string $text;

    #[ORM\Column(length: 400)]
    public string $remark = '';

    #[ORM\Column(name: 'answered_at', length: 40)]
    public string $at;

    /** Who says so, as they wrote their name. */
    #[ORM\Column(name: 'answered_by', length: 190)]
    public string $by;

    public function __construct(Job $job, string $code, string $text, string $at, string $by)
    {
        $this->job = $job;
        $this->code = $code;
        $this->text = $text;
        $this->at = $at;
        $this->by = $by;
    }
}
