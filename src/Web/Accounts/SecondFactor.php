<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\RequestStack;
use Symfony\Component\Security\Core\Exception\CustomUserMessageAuthenticationException;
use Symfony\Component\Security\Http\Authenticator\Passport\Credentials\PasswordCredentials;
use Symfony\Component\Security\Http\Event\CheckPassportEvent;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Wire\Totp;
use Vorhut\Entity\User;
use Vorhut\Journal\AuditTrail;
use Vorhut\Secrets\Secrets;

/** With two-factor authentication the six digits are typed after the password (RFC 6238); each code is accepted once. */
final readonly class SecondFactor
{
    private const LONGEST = 20;

    public function __construct(
        private Secrets $secrets,
        private ClockInterface $clock,
        private RequestStack $requests,
        private EntityManagerInterface $manager,
        private AuditTrail $trail,
    ) {
    }

    /** After the password was checked, so that it is not revealed which users need a code. */
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
        $now = $this->clock->now()->getTimestamp();
        $last = $user->totpStep;
        $isClockBack = Totp::isAhead($last, $now);
        $step = null === $secret ? null : Totp::ofBytes($secret)->stepOf($digits, $now, $isClockBack ? 0 : $last);
        if (null === $step) {
            return false;
        }
        // Of two who come with the same digits at once the second finds the step taken.
        $taken = $this->manager->getConnection()->executeStatement(
            'UPDATE app_user SET totp_step = ? WHERE id = ? AND '.($isClockBack ? 'totp_step = ?' : 'totp_step < ?'),
            [$step, $user->id, $isClockBack ? $last : $step],
        );
        $user->totpStep = $step;
        if (1 === (int) $taken && $isClockBack) {
            $this->trail->write(
                $user->login,
                (string) $this->requests->getCurrentRequest()?->getClientIp(),
                new Message('The clock of this server was set back since the last two-factor code; the new time is used now.'),
            );
        }

        return 1 === (int) $taken;
    }
}
