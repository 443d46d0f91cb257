<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\RequestEvent;
use Vorhut\Entity\User;

/** A login is looked up, counted and logged in one form, however it is spelled. Runs before the firewall. */
#[AsEventListener(priority: 16)]
final readonly class LoginName
{
    private const FIELD = '_username';

    public function __invoke(RequestEvent $event): void
    {
        $form = $event->getRequest()->request;
        if ($event->isMainRequest() && \is_string($form->all()[self::FIELD] ?? null)) {
            $form->set(self::FIELD, User::normalise($form->getString(self::FIELD)));
        }
    }
}
