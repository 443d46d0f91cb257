<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Security\Http\Event\LogoutEvent;

/**
 * The next user of a shared tablet finds no data of the previous one (W3C Clear Site Data). Unsent marks stay, under the login that made
 * them, if their owner chose so.
 */
#[AsEventListener]
final class ClearedBrowser
{
    public function __invoke(LogoutEvent $event): void
    {
        $isKept = 'yes' === $event->getRequest()->request->getString('keep');
        $event->getResponse()?->headers->set('Clear-Site-Data', $isKept ? '"cache"' : '"cache", "storage"');
    }
}
