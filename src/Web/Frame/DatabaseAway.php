<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Doctrine\DBAL\Exception\ConnectionException;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\HttpKernel\Event\ExceptionEvent;
use Symfony\Component\HttpKernel\Exception\ServiceUnavailableHttpException;

/**
 * The database does not answer: that is no fault of the request, and says nothing of who asks. It is told so, may be sent again, and nobody
 * is logged out because nobody could look them up.
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
                // Who it was cannot be known now: the firewall would take that for somebody who has left.
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
