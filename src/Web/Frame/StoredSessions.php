<?php

declare(strict_types=1);

namespace Vorhut\Web\Frame;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Session\Storage\Handler\PdoSessionHandler;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;

/**
 * Sessions in the database: all web machines have them, a full disk leaves no request waiting for a file's lock, and those whose time is
 * over are collected. Nothing is locked: of two requests at once the last one that changes something wins, and a page that only looks
 * changes nothing.
 */
final class StoredSessions extends PdoSessionHandler
{
    /** Seconds of inactivity after which a logged-in user's session ends; one without a login ends sooner. */
    private const IN = 43200;
    private const OUT = 1800;
    /** Seconds after which a session that is only used counts as used anew: not every look at a page is a write. */
    private const AFRESH = 300;

    public function __construct(
        #[Autowire(env: 'resolve:DATABASE_URL')]
        #[\SensitiveParameter]
        string $database,
        private readonly TokenStorageInterface $tokens,
    ) {
        parent::__construct($database, [
            'db_table' => 'web_session',
            'lock_mode' => self::LOCK_NONE,
            'ttl' => $this->seconds(...),
            'db_connection_options' => [\PDO::ATTR_TIMEOUT => 5],
        ]);
    }

    public function updateTimestamp(#[\SensitiveParameter] string $sessionId, string $data): bool
    {
        $now = time();
        $statement = $this->getConnection()->prepare(
            'UPDATE web_session SET sess_lifetime = ?, sess_time = ? WHERE sess_id = ? AND sess_time < ?',
        );
        $statement->bindValue(1, $now + $this->seconds(), \PDO::PARAM_INT);
        $statement->bindValue(2, $now, \PDO::PARAM_INT);
        $statement->bindValue(3, $sessionId);
        $statement->bindValue(4, $now - self::AFRESH, \PDO::PARAM_INT);
        $statement->execute();

        return true;
    }

    private function seconds(): int
    {
        return null === $this->tokens->getToken() ? self::OUT : self::IN;
    }
}
