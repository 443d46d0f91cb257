<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Security\Http\Event\LoginFailureEvent;
use Symfony\Component\Security\Http\Event\LoginSuccessEvent;
use Symfony\Component\Security\Http\SecurityRequestAttributes;
use Vorhut\Core\Text\Message;
use Vorhut\Journal\AuditTrail;

/** Records logins and refused logins. */
final readonly class LoginAudit
{
    /** Limits entries, so that repeated attempts cannot fill the disk. */
    private const QUIET = 60;

    public function __construct(private AuditTrail $trail)
    {
    }

    #[AsEventListener]
    public function onSuccess(LoginSuccessEvent $event): void
    {
        $this->trail->write($event->getUser()->getUserIdentifier(), self::address($event->getRequest()), new Message('Logged in.'));
    }

    #[AsEventListener]
    public function onFailure(LoginFailureEvent $event): void
    {
        $name = $event->getRequest()->attributes->get(SecurityRequestAttributes::LAST_USERNAME, '');
        $this->trail->write(
            \is_string($name) ? $name : '',
            self::address($event->getRequest()),
            new Message('Login refused.'),
            self::QUIET,
        );
    }

    private static function address(Request $request): string
    {
        return (string) $request->getClientIp();
    }
}
