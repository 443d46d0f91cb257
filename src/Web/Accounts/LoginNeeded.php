<?php

declare(strict_types=1);

namespace Vorhut\Web\Accounts;

use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Event\ResponseEvent;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;

/**
 * A script that is not logged in gets 401 (RFC 9110 §15.5.2), without a session: a page polls on while its user logs in again in another
 * tab, and a late answer with a session cookie would overwrite the new login.
 */
final readonly class LoginNeeded
{
    public function __construct(private Security $security)
    {
    }

    /** Before the firewall's own listener, which stores the address in the session and redirects to the login form. */
    #[AsEventListener(priority: 2)]
    public function refuse(ExceptionEvent $event): void
    {
        if ($event->getThrowable() instanceof AccessDeniedException && $this->isNeeded($event->getRequest())) {
            $event->allowCustomResponseCode();
            $event->setResponse(new Response('', Response::HTTP_UNAUTHORIZED));
            $event->stopPropagation();
        }
    }

    /** After the session listener, which sets or clears the cookie of a session that has expired. */
    #[AsEventListener(priority: -1100)]
    public function withoutCookie(ResponseEvent $event): void
    {
        $request = $event->getRequest();
        $isRefused = Response::HTTP_UNAUTHORIZED === $event->getResponse()->getStatusCode() && $this->isNeeded($request);
        if ($isRefused && $request->hasSession(true)) {
            $event->getResponse()->headers->removeCookie($request->getSession()->getName());
        }
    }

    private function isNeeded(Request $request): bool
    {
        return $request->headers->has('HX-Request') && null === $this->security->getUser();
    }
}
