<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Doctrine\DBAL\Exception\ConnectionException;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;

/**
 * The database does not answer: the request is not at fault, and the user is not judged by it. The page says so, the request may be sent
 * again, and users stay logged in although they cannot be looked up.
 */
#[AsEventListener(priority: 64)]
final class DatabaseAway
{
    /** Seconds. */
    private const AGAIN = 5;
    /** MariaDB: cannot connect, gone away, lost in the middle, is shutting down, too many connections. */
    private const CODES = [2002, 2003, 2006, 2013, 1053, 1040];

    public function __invoke(ExceptionEvent $event): void
    {
        for ($e = $event->getThrowable(); null !== $e; $e = $e->getPrevious()) {
            $lost = $e instanceof ConnectionException
                || ($e instanceof \PDOException && \in_array($e->errorInfo[1] ?? $e->getCode(), self::CODES, true));
            if ($lost) {
                // The user cannot be determined now: the firewall would treat that as a logout.
                $event->getRequest()->attributes->remove('_security_firewall_run');
                $event->setThrowable(new ServiceUnavailableHttpException(
                    self::AGAIN,
                    'The database does not answer. Nothing was changed; send it again in a moment.',
                    $event->getThrowable(),
                ));

                return;
            }
        }
    }
}
