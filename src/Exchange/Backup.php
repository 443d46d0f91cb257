<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\Connection;
use Vorhut\Core\Net\Malformed;

/**
 * The whole database as one file: a line of JSON for what it is, for each table how it is made, for each row what it holds, and a last
 * line with their number and the SHA-256 of all before it. Taken at one moment, while others go on writing; secrets are in it as they are
 * stored, sealed, and their key is not.
 */
final readonly class Backup
{
    private const FORMAT = 'vorhut-backup';
    private const VERSION = 1;
    private const AT_ONCE = 100;
    private const VISITS = ['web_session', 'form_note', 'cache_items'];
    /** Bytes of rows put in at once: a server takes 16 MB as it comes, and a photo may have twelve. */
    private const LARGEST = 2_000_000;

    public function __construct(private Connection $connection)
    {
    }

    /**
     * @param \Closure(string): void $line takes a line with its end
     *
     * @return int how many rows
     */
    public function write(\Closure $line, string $at): int
    {
        $hash = hash_init('sha256');
        $put = static function (mixed $data) use ($line, $hash): void {
            $text = json_encode($data, \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_THROW_ON_ERROR)."\n";
            hash_update($hash, $text);
            $line($text);
        };
        $rows = 0;
        $this->connection->executeStatement('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ');
        $this->connection->executeStatement('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY');
        $buffered = $this->buffer(false);
        try {
            $put(['format' => self::FORMAT, 'version' => self::VERSION, 'at' => $at]);
            foreach ($this->tables() as $table) {
                $made = $this->connection->fetchNumeric('SHOW CREATE TABLE '.$this->quoted($table));
                $put(['table' => $table, 'made' => \is_array($made) && \is_string($made[1]) ? $made[1] : '']);
                // Who is in when it is put back comes in anew: a backup opens no door.
                $which = \in_array($table, self::VISITS, true) ? ' WHERE 1 = 0' : '';
                foreach ($this->connection->executeQuery('SELECT * FROM '.$this->quoted($table).$which)->iterateAssociative() as $row) {
                    $put(['row' => array_map(self::kept(...), $row)]);
                    ++$rows;
                }
            }
        } finally {
            $this->buffer($buffered);
            $this->connection->executeStatement('ROLLBACK');
        }
        $line(json_encode(['rows' => $rows, 'sha256' => hash_final($hash)], \JSON_THROW_ON_ERROR)."\n");

        return $rows;
    }

    /**
     * Reads a backup through to its end without touching anything.
     *
     * @param iterable<string> $lines
     *
     * @return array{rows: int, at: string}
     *
     * @throws Malformed where it is none, or not whole
     */
    public static function check(iterable $lines): array
    {
        $hash = hash_init('sha256');
        $rows = 0;
        $at = null;
        foreach ($lines as $line) {
            $data = json_decode($line, true);
            if (!\is_array($data)) {
                break;
            }
            if (null === $at) {
                if (self::FORMAT !== ($data['format'] ?? null) || self::VERSION !== ($data['version'] ?? null)) {
                    throw Malformed::because('This is no backup that this program can read.');
                }
                $at = \is_string($data['at'] ?? null) ? $data['at'] : '';
            }
            if (isset($data['sha256'])) {
                if ($data['sha256'] === hash_final($hash) && $data['rows'] === $rows) {
                    return ['rows' => $rows, 'at' => $at];
                }
                throw Malformed::because('The backup is damaged: it does not hold what was written into it.');
            }
            $rows += isset($data['row']) ? 1 : 0;
            hash_update($hash, $line);
        }
        throw null === $at
            ? Malformed::because('This is no backup that this program can read.')
            : Malformed::because('The backup breaks off.');
    }

    /**
     * Throws away what is here and puts in what the backup holds, tables as they were made then.
     *
     * @param iterable<string> $lines that check() found whole
     */
    public function restore(iterable $lines): void
    {
        $this->connection->executeStatement('SET FOREIGN_KEY_CHECKS = 0');
        try {
            foreach ($this->tables() as $table) {
                $this->connection->executeStatement('DROP TABLE '.$this->quoted($table));
            }
            $table = '';
            $waiting = [];
            $bytes = 0;
            foreach ($lines as $line) {
                $data = json_decode($line, true, 512, \JSON_THROW_ON_ERROR);
                $row = \is_array($data) && \is_array($data['row'] ?? null) ? $data['row'] : null;
                if (null === $row || \count($waiting) >= self::AT_ONCE || $bytes + \strlen($line) > self::LARGEST) {
                    $this->insert($table, $waiting);
                    $waiting = [];
                    $bytes = 0;
                }
                if (null !== $row) {
                    $waiting[] = array_map(self::held(...), $row);
                    $bytes += \strlen($line);
                }
                if (\is_array($data) && \is_string($data['table'] ?? null) && \is_string($data['made'] ?? null)) {
                    $table = $data['table'];
                    $this->connection->executeStatement($data['made']);
                }
            }
        } finally {
            $this->connection->executeStatement('SET FOREIGN_KEY_CHECKS = 1');
        }
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

    /** @return list<string> */
    private function tables(): array
    {
        return array_values(array_filter($this->connection->fetchFirstColumn('SHOW TABLES'), is_string(...)));
    }

    /** @param list<array<mixed>> $rows of one table */
    private function insert(string $table, array $rows): void
    {
        if ([] === $rows) {
            return;
        }
        $columns = implode(', ', array_map(fn (int|string $name): string => $this->quoted((string) $name), array_keys($rows[0])));
        $places = '('.implode(', ', array_fill(0, \count($rows[0]), '?')).')';
        $this->connection->executeStatement(
            'INSERT INTO '.$this->quoted($table)." ($columns) VALUES ".implode(', ', array_fill(0, \count($rows), $places)),
            array_merge(...array_map(array_values(...), $rows)),
        );
    }

    private function quoted(string $name): string
    {
        return $this->connection->getDatabasePlatform()->quoteSingleIdentifier($name);
    }

    /** @return scalar|array{bytes: string}|null */
    private static function kept(mixed $value): string|int|float|bool|array|null
    {
        if (\is_resource($value)) {
            $value = (string) stream_get_contents($value);
        }

        return \is_string($value) && !mb_check_encoding($value, 'UTF-8')
            ? ['bytes' => base64_encode($value)]
            : (\is_scalar($value) ? $value : null);
    }

    /** @return scalar|null */
    private static function held(mixed $value): string|int|float|bool|null
    {
        return \is_array($value) && \is_string($value['bytes'] ?? null)
            ? (string) base64_decode($value['bytes'], true)
            : (\is_scalar($value) ? $value : null);
    }
}
