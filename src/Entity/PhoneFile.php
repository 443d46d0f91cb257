<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A phone's file as last made, for the fast path, its only reader. */
#[ORM\Entity]
#[ORM\Table(name: 'phone_file')]
#[ORM\UniqueConstraint(columns: ['job_id', 'mac'])]
class PhoneFile
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    /** Twelve digits, lower case. */
    #[ORM\Column(length: 12)]
    public string $mac;

    #[ORM\Column(length: 190)]
    public string $device;

    /** Of the job, when it was made: another one by now, and it is made anew. */
    #[ORM\Column(name: 'files_stamp', length: 16)]
    public string $stamp;

    /** Sealed: there are secrets in it. */
    #[ORM\Column(type: 'text', length: 16777215)]
    public string $body;

    #[ORM\Column(name: 'file_version', length: 32)]
    public string $version;

    /** @var list<array{int, int}> first and last address from which it is handed out */
    #[ORM\Column(type: 'json')]
    public array $ranges;

    /** Unix time until which it is; null for ever. */
    #[ORM\Column(name: 'until_at', type: 'integer', nullable: true)]
    public ?int $until = null;

    /** @param list<array{int, int}> $ranges */
    public function __construct(Job $job, string $mac, string $device, string $stamp, string $body, string $version, array $ranges)
    {
        $this->job = $job;
        $this->mac = $mac;
        $this->device = $device;
        $this->stamp = $stamp;
        $this->body = $body;
        $this->version = $version;
        $this->ranges = $ranges;
    }
}
