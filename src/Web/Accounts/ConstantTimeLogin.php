<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\Security\Core\Exception\UserNotFoundException;
use Symfony\Component\Security\Http\Event\LoginFailureEvent;
use Vorhut\Entity\User;

/** An unknown name takes as long as a wrong password: else the time would reveal which users exist. */
#[AsEventListener]
final readonly class ConstantTimeLogin
{
    public function __construct(private PasswordHasherFactoryInterface $hashers)
    {
    }

    public function __invoke(LoginFailureEvent $event): void
    {
        for ($e = $event->getException(); null !== $e; $e = $e->getPrevious()) {
            if ($e instanceof UserNotFoundException) {
                // Making one costs what comparing with one costs.
                $this->hashers->getPasswordHasher(User::class)->hash('no such user');

                return;
            }
        }
    }
}
