<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Security\Http\Event\LogoutEvent;

/**
 * Whoever takes a shared tablet next finds nothing of who left (W3C Clear Site Data). Marks that were not sent stay, kept under the login
 * that made them, where its owner said so.
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
