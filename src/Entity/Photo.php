<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** What a device, a label or a rack looked like at a step. No part of the job's document: pictures are handed out as files. */
#[ORM\Entity]
#[ORM\Table(name: 'photo')]
#[ORM\Index(columns: ['job_id', 'device'])]
class Photo
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    public function __construct(
        #[ORM\ManyToOne]
        #[ORM\JoinColumn(nullable: false, onDelete: 'CASCADE')]
        public Job $job,
        #[ORM\Column(length: 190)]
        public string $device,
        #[ORM\Column(length: 190)]
        public string $step,
        #[ORM\Column(name: 'media_type', length: 40)]
        public string $mediaType,
        /** @var string|resource */
        #[ORM\Column(type: 'blob', length: 4294967295)]
        public mixed $bytes,
        #[ORM\Column(length: 64)]
        public string $hash,
        #[ORM\Column(name: 'made_by', length: 255)]
        public string $by,
        /** The user, because a name does not tell two people with that name apart. */
        #[ORM\Column(length: 64)]
        public string $login,
        #[ORM\Column(name: 'made_at', length: 190)]
        public string $at,
    ) {
    }
}
