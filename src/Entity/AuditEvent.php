<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;

/** An entry of the sign-in log: logins and refusals, changed rights, exports with secrets. Never altered. */
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

    /** As typed, if there is no user with this name. */
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
