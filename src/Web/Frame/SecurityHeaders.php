<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ResponseEvent;

/** Loads only our own files, and runs only scripts from them. */
#[AsEventListener]
final class SecurityHeaders
{
    public const POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src "
        ."'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public function __invoke(ResponseEvent $event): void
    {
        $headers = $event->getResponse()->headers;
        $headers->set('Content-Security-Policy', self::POLICY);
        $headers->set('X-Content-Type-Options', 'nosniff');
        $headers->set('Referrer-Policy', 'same-origin');
        $headers->set('X-Frame-Options', 'DENY');
        // Tablets are shared: of pages, exports and photos nothing stays behind. A script holds nothing of a job.
        if (!str_contains((string) $headers->get('Content-Type', ''), 'javascript')) {
            $headers->set('Cache-Control', 'no-store, private');
        }
    }
}
