<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** Something at the doors: who came in or was not let in, whose rights changed, what left the house with its secrets. Never altered. */
#[ORM\Entity]
#[ORM\Table(name: 'audit_event')]
#[ORM\Index(columns: ['made_at'])]
class AuditEvent
{
    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    /** ISO 8601, UTC. */
    #[ORM\Column(name: 'made_at', length: 32)]
    public string $at;

    /** As it was typed, where nobody of this name is here. */
    #[ORM\Column(length: 64)]
    public string $login;

    #[ORM\Column(length: 64)]
    public string $address;

    /** @var array<mixed>|string a sentence, with its places where it has some */
    #[ORM\Column(type: 'json')]
    public array|string $what;

    /** @param array<mixed>|string $what */
    public function __construct(string $at, string $login, string $address, array|string $what)
    {
        $this->at = $at;
        $this->login = $login;
        $this->address = $address;
        $this->what = $what;
    }
}
