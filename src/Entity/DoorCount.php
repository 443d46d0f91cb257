<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Counts of attempts, in the columns of the framework's cache. It is never read or written as an entity. */
#[ORM\Entity]
#[ORM\Table(name: 'cache_items')]
class DoorCount
{
    #[ORM\Id]
    #[ORM\Column(name: 'item_id', type: 'binary', length: 255)]
    public string $id;

    #[ORM\Column(name: 'item_data', type: 'blob', length: 16777215)]
    public string $data;

    /** Seconds. */
    #[ORM\Column(name: 'item_lifetime', type: 'integer', nullable: true, options: ['unsigned' => true])]
    public ?int $lifetime;

    #[ORM\Column(name: 'item_time', type: 'integer', options: ['unsigned' => true])]
    public int $at;

    public function __construct(string $id, string $data, ?int $lifetime, int $at)
    {
        $this->id = $id;
        $this->data = $data;
        $this->lifetime = $lifetime;
        $this->at = $at;
    }
}
