<?php

declare(strict_types=1);

namespace Vorhut\Entity;

use Doctrine\ORM\Mapping as ORM;
use Symfony\Component\Security\Core\User\EquatableInterface;
use Symfony\Component\Security\Core\User\PasswordAuthenticatedUserInterface;
use Symfony\Component\Security\Core\User\UserInterface;

/** A user of Vorhut: lead, technician or viewer of all jobs, or a guest, with access to selected jobs only. */
#[ORM\Entity]
#[ORM\Table(name: 'app_user')]
class User implements UserInterface, PasswordAuthenticatedUserInterface, EquatableInterface
{
    public const ROLES = ['lead' => 'ROLE_LEAD', 'technician' => 'ROLE_TECHNICIAN', 'viewer' => 'ROLE_VIEWER', 'guest' => 'ROLE_GUEST'];

    /** What a login is made of. */
    public const LOGIN = '/^[a-z0-9._-]{2,64}$/D';

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

    /** Disabled: this user cannot log in, and an open session ends at its next request. */
    #[ORM\Column(name: 'is_active', type: 'boolean', options: ['default' => true])]
    public bool $isActive = true;

    /** The secret of the second factor, sealed; null where there is none. */
    #[ORM\Column(name: 'totp_sealed', length: 255, nullable: true)]
    public ?string $totpSealed = null;

    /** The last step whose digits were taken (RFC 6238), so that none is taken twice. */
    #[ORM\Column(name: 'totp_step', type: 'integer', options: ['default' => 0])]
    public int $totpStep = 0;

    /** A login as it is kept: without blanks around it, in lower case, composed (Unicode NFC). */
    public static function normalise(string $login): string
    {
        $composed = \Normalizer::normalize(mb_scrub($login), \Normalizer::FORM_C);

        return mb_strtolower(trim(\is_string($composed) ? $composed : $login));
    }

    /** @param non-empty-string $login */
    public function __construct(string $login, string $name, string $role)
    {
        $this->login = $login;
        $this->name = $name;
        $this->role = $role;
    }

    public function getRoles(): array
    {
        return [self::ROLES[$this->role] ?? 'ROLE_GUEST'];
    }

    public function getUserIdentifier(): string
    {
        return $this->login;
    }

    public function getPassword(): string
    {
        return $this->passwordHash;
    }

    /** A disabled user, or one with a new role or password, has to log in again. */
    public function isEqualTo(UserInterface $user): bool
    {
        return $user instanceof self && $user->isActive && $user->login === $this->login && $user->role === $this->role
            && $user->passwordHash === $this->passwordHash;
    }

    public function eraseCredentials(): void
    {
    }
}
