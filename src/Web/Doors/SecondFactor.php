<?php

declare(strict_types=1);

namespace Vorhut\Web\Doors;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\Security\Core\Exception\CustomUserMessageAuthenticationException;
use Symfony\Component\Security\Http\Authenticator\Passport\Credentials\PasswordCredentials;
use Symfony\Component\Security\Http\Event\CheckPassportEvent;
use Vorhut\Core\Wire\Totp;
use Vorhut\Entity\User;
use Vorhut\Secrets\Secrets;

/** Whoever has set a second factor types its six digits beside the password (RFC 6238); each is taken once. */
final readonly class SecondFactor
{
    private const LONGEST = 20;

    public function __construct(
        private Secrets $secrets,
        private ClockInterface $clock,
        private RequestStack $requests,
        private EntityManagerInterface $manager,
    ) {
    }

    /** After the password was found right, so that nobody learns of whom more is asked. */
    #[AsEventListener(CheckPassportEvent::class, priority: -64)]
    public function ask(CheckPassportEvent $event): void
    {
        $password = $event->getPassport()->getBadge(PasswordCredentials::class);
        $user = $event->getPassport()->getUser();
        if (!$password instanceof PasswordCredentials || !$password->isResolved() || !$user instanceof User || null === $user->totpSealed) {
            return;
        }
        $typed = $this->requests->getCurrentRequest()?->request->getString('_code') ?? '';
        if (!$this->takes($user, $typed)) {
            throw new CustomUserMessageAuthenticationException('Type the six digits of your second factor too, as it shows them just now.');
        }
    }

    public function takes(User $user, string $digits): bool
    {
        $secret = $this->secrets->openSealed($user->totpSealed);
        $digits = str_replace(' ', '', mb_substr($digits, 0, self::LONGEST));
        $step = null === $secret ? null : Totp::ofBytes($secret)->stepOf($digits, $this->clock->now()->getTimestamp(), $user->totpStep);
        if (null === $step) {
            return false;
        }
        // Of two who come with the same digits at once the second finds the step taken.
        $taken = $this->manager->getConnection()->executeStatement(
            'UPDATE app_user SET totp_step = ? WHERE id = ? AND totp_step < ?',
            [$step, $user->id, $step],
        );
        $user->totpStep = $step;

        return 1 === (int) $taken;
    }
}
