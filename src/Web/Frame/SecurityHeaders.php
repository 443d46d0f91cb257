<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ResponseEvent;

/** Nothing comes from elsewhere, nothing runs that does not stand in a file of ours. */
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
        // A page without a type yet is one of ours: HTML is what it will be.
        $type = (string) $headers->get('Content-Type', 'text/html');
        if (str_contains($type, 'html')) {
            $headers->set('Cache-Control', 'no-store, private');
        }
    }
}
