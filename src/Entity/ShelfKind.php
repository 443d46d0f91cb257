<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** One version of a kind of device that the company keeps for its jobs. Versions are added, never changed. */
#[ORM\Entity]
#[ORM\Table(name: 'shelf_kind')]
#[ORM\UniqueConstraint(columns: ['code', 'version'])]
class ShelfKind
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    public function __construct(
        #[ORM\Column(length: 190)]
        public string $code,
        #[ORM\Column(name: 'version', type: 'integer')]
        public int $version,
        #[ORM\Column(type: 'text')]
        public string $source,
        #[ORM\Column(name: 'made_by', length: 255)]
        public string $by,
        #[ORM\Column(name: 'made_at', length: 190)]
        public string $at,
    ) {
    }
}
