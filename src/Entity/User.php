<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;
use Symfony\Component\Security\Core\User\PasswordAuthenticatedUserInterface;
use Symfony\Component\Security\Core\User\UserInterface;

/** Somebody who works with Vorhut: lead, technician or viewer. */
#[ORM\Entity]
#[ORM\Table(name: 'app_user')]
class User implements UserInterface, PasswordAuthenticatedUserInterface
{
    public const ROLES = ['lead' => 'ROLE_LEAD', 'technician' => 'ROLE_TECHNICIAN', 'viewer' => 'ROLE_VIEWER'];

    #[ORM\Id]
    #[ORM\GeneratedValue]
    #[ORM\Column]
    public ?int $id = null;

    /** @var non-empty-string */
    #[ORM\Column(length: 64, unique: true)]
    public string $login;

    #[ORM\Column(length: 190)]
    public string $name;

    #[ORM\Column(length: 32)]
    public string $role;

    #[ORM\Column(length: 255)]
    public string $passwordHash = '';

    /** @var array<string, string>|null what a column of their tables holds, as they said once: heading → field or setting */
    #[ORM\Column(name: 'pasted_columns', type: 'json', nullable: true)]
    public ?array $pastedColumns = null;

    /** @param non-empty-string $login */
    public function __construct(string $login, string $name, string $role)
    {
        $this->login = $login;
        $this->name = $name;
        $this->role = $role;
    }

    public function getRoles(): array
    {
        return [self::ROLES[$this->role] ?? 'ROLE_VIEWER'];
    }

    public function getUserIdentifier(): string
    {
        return $this->login;
    }

    public function getPassword(): string
    {
        return $this->passwordHash;
    }

    public function eraseCredentials(): void
    {
    }
}
