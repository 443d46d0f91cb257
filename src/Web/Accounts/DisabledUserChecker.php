<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\Security\Core\Authentication\Token\TokenInterface;
use Symfony\Component\Security\Core\Exception\CustomUserMessageAccountStatusException;
use Symfony\Component\Security\Core\User\UserCheckerInterface;
use Symfony\Component\Security\Core\User\UserInterface;
use Vorhut\Entity\User;

/** Shown only after the right password. */
final class DisabledUserChecker implements UserCheckerInterface
{
    public function checkPreAuth(UserInterface $user): void
    {
    }

    public function checkPostAuth(UserInterface $user, ?TokenInterface $token = null): void
    {
        if ($user instanceof User && !$user->isActive) {
            throw new CustomUserMessageAccountStatusException('This login is disabled. Ask a lead engineer.');
        }
    }
}
