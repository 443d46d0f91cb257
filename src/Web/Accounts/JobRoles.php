<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Authorization\Voter\Vote;
use Symfony\Component\Security\Core\Authorization\Voter\VoterInterface;
use Vorhut\Entity\JobAccess;
use Vorhut\Entity\User;

/**
 * The role in a job takes precedence over the general one, whether it permits more or less. Asked before all other voters, and abstains if
 * the job defines no role.
 */
final class JobRoles implements VoterInterface
{
    private const RANKS = [JobAccess::NONE => 0, 'guest' => 1, 'viewer' => 2, 'technician' => 3, 'lead' => 4];

    /** @var array<string, array<string, string>> login → job → role */
    private array $known = [];

    public function __construct(private readonly EntityManagerInterface $manager, private readonly RequestStack $requests)
    {
    }

    public function vote(TokenInterface $token, mixed $subject, array $attributes, ?Vote $vote = null): int
    {
        $slug = $this->requests->getMainRequest()?->attributes->get('slug');
        $user = $token->getUser();
        $role = array_search($attributes[0] ?? '', User::ROLES, true);
        if (!\is_string($slug) || !$user instanceof User || false === $role) {
            return self::ACCESS_ABSTAIN;
        }
        $own = $this->rolesOf($user)[$slug] ?? null;
        if (null === $own) {
            return self::ACCESS_ABSTAIN;
        }

        return (self::RANKS[$own] ?? 0) >= self::RANKS[$role] ? self::ACCESS_GRANTED : self::ACCESS_DENIED;
    }

    /** Whether a user may see a job at all. */
    public function mayLookAt(User $user, string $slug): bool
    {
        return self::RANKS[$this->rolesOf($user)[$slug] ?? $user->role] >= self::RANKS['viewer'];
    }

    /** @return array<string, string> job → role, where it differs from the general one */
    public function rolesOf(User $user): array
    {
        if (!isset($this->known[$user->login])) {
            $roles = [];
            foreach ($this->manager->getConnection()->fetchAllAssociative(
                'SELECT j.slug, a.role FROM job_access a JOIN job j ON j.id = a.job_id WHERE a.user_id = ?',
                [$user->id],
            ) as $row) {
                if (\is_string($row['slug']) && \is_string($row['role'])) {
                    $roles[$row['slug']] = $row['role'];
                }
            }
            $this->known[$user->login] = $roles;
        }

        return $this->known[$user->login];
    }
}
