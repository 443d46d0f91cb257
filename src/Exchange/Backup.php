<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\Connection;
use Vorhut\Secrets\SealingKey;

/**
 * The whole database as one file of JSON lines: a header, each table with its rows, and at the end their number and a code over everything
 * before it (HMAC-SHA-256, RFC 2104) that requires the key of the secrets. Taken at one moment, while others go on writing; secrets are
 * stored in it sealed, without their key.
 */
final readonly class Backup
{
    public const FORMAT = 'vorhut-backup';
    public const VERSION = 2;
    public const PURPOSE = 'vorhut backup';
    private const VISITS = ['web_session', 'form_note', 'cache_items'];

    public function __construct(private Connection $connection)
    {
    }

    /**
     * @param \Closure(string): void $line takes a line with its end
     *
     * @return int how many rows
     */
    public function write(\Closure $line, SealingKey $key, string $at): int
    {
        $code = hash_init('sha256', \HASH_HMAC, $key->derive(self::PURPOSE));
        $put = static function (mixed $data) use ($line, $code): void {
            $text = json_encode($data, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_THROW_ON_ERROR)."\n";
            hash_update($code, $text);
            $line($text);
        };
        $rows = 0;
        $this->connection->executeStatement('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ');
        $this->connection->executeStatement('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY');
        $buffered = $this->buffer(false);
        try {
            $put(['format' => self::FORMAT, 'version' => self::VERSION, 'at' => $at]);
            foreach ($this->connection->fetchFirstColumn('SHOW TABLES') as $table) {
                if (!\is_string($table)) {
                    continue;
                }
                $put(['table' => $table]);
                // Users must log in again after a restore: a backup contains no sessions.
                $which = \in_array($table, self::VISITS, true) ? ' WHERE 1 = 0' : '';
                $quoted = $this->connection->getDatabasePlatform()->quoteSingleIdentifier($table);
                foreach ($this->connection->executeQuery("SELECT * FROM $quoted$which")->iterateAssociative() as $row) {
                    $put(['row' => array_map(self::encodeValue(...), $row)]);
                    ++$rows;
                }
            }
        } finally {
            $this->buffer($buffered);
            $this->connection->executeStatement('ROLLBACK');
        }
        $line(json_encode(['rows' => $rows, 'hmac' => hash_final($code)], \JSON_THROW_ON_ERROR)."\n");

        return $rows;
    }

    /**
     * Whether the client holds a whole table at a time: photos of a company are more than a memory.
     *
     * @return bool as it was
     */
    private function buffer(bool $whole): bool
    {
        $native = $this->connection->getNativeConnection();
        if (!$native instanceof \PDO) {
            return true;
        }
        $was = (bool) $native->getAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY);
        $native->setAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY, $whole);

        return $was;
    }

    /** @return scalar|array{bytes: string}|null */
    private static function encodeValue(mixed $value): string|int|float|bool|array|null
    {
        if (\is_resource($value)) {
            $value = (string) stream_get_contents($value);
        }

        return match (true) {
            \is_string($value) && !mb_check_encoding($value, 'UTF-8') => ['bytes' => base64_encode($value)],
            \is_scalar($value) => $value,
            default => null,
        };
    }
}
