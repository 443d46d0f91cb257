<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** A session of a user, in the columns of the framework's session handler. It is never read or written as an entity. */
#[ORM\Entity]
#[ORM\Table(name: 'web_session')]
#[ORM\Index(name: 'web_session_lifetime', columns: ['sess_lifetime'])]
class WebSession
{
    #[ORM\Id]
    #[ORM\Column(name: 'sess_id', type: 'binary', length: 128)]
    public string $id;

    #[ORM\Column(name: 'sess_data', type: 'blob', length: 16777215)]
    public string $data;

    /** Unix time at which it is over. */
    #[ORM\Column(name: 'sess_lifetime', type: 'integer', options: ['unsigned' => true])]
    public int $until;

    #[ORM\Column(name: 'sess_time', type: 'integer', options: ['unsigned' => true])]
    public int $at;

    public function __construct(string $id, string $data, int $until, int $at)
    {
        $this->id = $id;
        $this->data = $data;
        $this->until = $until;
        $this->at = $at;
    }
}
