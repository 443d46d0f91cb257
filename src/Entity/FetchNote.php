<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** That a phone fetched its file by the fast path, until that is stored as evidence of its job. One for each minute, with a count. */
#[ORM\Entity]
#[ORM\Table(name: 'fetch_note')]
#[ORM\UniqueConstraint(columns: ['job_id', 'mac', 'address', 'minute'])]
class FetchNote
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    #[ORM\ManyToOne(targetEntity: Job::class)]
    #[ORM\JoinColumn(name: 'job_id', nullable: false, onDelete: 'CASCADE')]
    public Job $job;

    #[ORM\Column(length: 12)]
    public string $mac;

    #[ORM\Column(length: 190)]
    public string $device;

    #[ORM\Column(length: 45)]
    public string $address;

    /** Since the epoch. */
    #[ORM\Column(type: 'integer')]
    public int $minute;

    #[ORM\Column(name: 'made_at', length: 32)]
    public string $at;

    #[ORM\Column(length: 190)]
    public string $agent;

    #[ORM\Column(name: 'file_version', length: 32)]
    public string $version;

    #[ORM\Column(name: 'on_site', type: 'boolean')]
    public bool $onSite;

    #[ORM\Column(type: 'integer')]
    public int $times = 1;

    #[ORM\Column(name: 'is_entered', type: 'boolean', options: ['default' => false])]
    public bool $isEntered = false;

    public function __construct(
        Job $job,
        string $mac,
        string $device,
        string $address,
        int $minute,
        string $at,
        string $agent,
        string $version,
        bool $onSite,
    ) {
        $this->job = $job;
        $this->mac = $mac;
        $this->device = $device;
        $this->address = $address;
        $this->minute = $minute;
        $this->at = $at;
        $this->agent = $agent;
        $this->version = $version;
        $this->onSite = $onSite;
    }
}
