<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * What all records of a job have: the job, and a key that never changes within it. Records name one another by key, as the job document
 * does; the journal writes them and nothing else does.
 */
#[ORM\MappedSuperclass]
abstract class Record
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne]
    #[ORM\JoinColumn(nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\Column(name: 'record_key', length: 190)]
    public string $key = '';

    final public function __construct(Job $job, string $key)
    {
        $this->job = $job;
        $this->key = $key;
    }
}
