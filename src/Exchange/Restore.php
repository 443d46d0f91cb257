<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\DriverManager;
use Doctrine\DBAL\Exception as DatabaseError;
use Vorhut\Core\Net\Malformed;

/**
 * Restores a backup. A second database is made by our own migrations, filled with the rows of the file, brought up to date, and only then
 * replaces the first, all tables at once: until that moment the present data stays untouched.
 */
final readonly class Restore
{
    private const AT_ONCE = 100;
    /** Bytes of rows put in at once: a server takes 16 MB as it comes, and a photo may have twelve. */
    private const LARGEST = 2_000_000;

    public function __construct(private Connection $connection, private Migrations $migrations)
    {
    }

    /**
     * @param iterable<string>  $lines  of the file that was checked
     * @param \Closure(): mixed $before called when all else has gone well, just before the tables change places
     *
     * @throws Malformed where the file holds what our tables do not, or where no second database can be made
     */
    public function restore(BackupFile $file, iterable $lines, \Closure $before): void
    {
        $here = $this->connection->getDatabase() ?? throw new \LogicException('No database is selected.');
        [$new, $replaced] = [$here.'_restore', $here.'_replaced'];
        $this->makeEmpty($new, $replaced);
        try {
            $second = DriverManager::getConnection(['dbname' => $new] + $this->connection->getParams());
            $this->migrations->run($second, $file->migration);
            $this->fill($second, $lines);
            $this->migrations->run($second);
            $second->close();
            $before();
            $this->swap($new, $here, $replaced);
        } finally {
            $this->drop($new, $replaced);
        }
    }

    private function makeEmpty(string ...$databases): void
    {
        try {
            $this->drop(...$databases);
            foreach ($databases as $database) {
                $this->connection->executeStatement(
                    'CREATE DATABASE '.$this->quote($database).' CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin',
                );
            }
        } catch (DatabaseError $e) {
            throw Malformed::because(
                'A backup is restored into a second database, "{name}", which cannot be made: {reason}. deploy/README.md names the grant.',
                ['name' => $databases[0] ?? '', 'reason' => $e->getMessage()],
            );
        }
    }

    private function drop(string ...$databases): void
    {
        foreach ($databases as $database) {
            $this->connection->executeStatement('DROP DATABASE IF EXISTS '.$this->quote($database));
        }
    }

    /** @param iterable<string> $lines */
    private function fill(Connection $second, iterable $lines): void
    {
        $known = [];
        foreach ($second->fetchAllNumeric(
            'SELECT table_name, column_name FROM information_schema.columns WHERE table_schema = DATABASE()',
        ) as [$table, $column]) {
            if (\is_string($table) && \is_string($column)) {
                $known[$table][$column] = true;
            }
        }
        $second->executeStatement('SET FOREIGN_KEY_CHECKS = 0');
        foreach (array_keys(array_diff_key($known, [Migrations::TABLE => true])) as $table) {
            $second->executeStatement('DELETE FROM '.$this->quote($table));
        }
        $waiting = [];
        $bytes = 0;
        $last = '';
        foreach (BackupFile::rows($lines) as [$table, $row]) {
            foreach ([] === $row ? [''] : array_keys(array_diff_key($row, $known[$table] ?? [])) as $column) {
                throw Malformed::because('The backup holds what its version has no place for: {table}, {column}.', [
                    'table' => $table,
                    'column' => $column,
                ]);
            }
            $length = array_sum(array_map(static fn (mixed $value): int => \strlen((string) $value), $row));
            if ($last !== $table || \count($waiting) >= self::AT_ONCE || $bytes + $length > self::LARGEST) {
                $this->insert($second, $last, $waiting);
                [$waiting, $bytes, $last] = [[], 0, $table];
            }
            $waiting[] = $row;
            $bytes += $length;
        }
        $this->insert($second, $last, $waiting);
        $second->executeStatement('SET FOREIGN_KEY_CHECKS = 1');
    }

    /** @param list<array<string, scalar|null>> $rows of one table */
    private function insert(Connection $second, string $table, array $rows): void
    {
        if ([] === $rows) {
            return;
        }
        $columns = array_keys($rows[0]);
        $places = '('.implode(', ', array_fill(0, \count($columns), '?')).')';
        $values = [];
        foreach ($rows as $row) {
            foreach ($columns as $column) {
                $values[] = $row[$column] ?? null;
            }
        }
        $second->executeStatement(\sprintf(
            'INSERT INTO %s (%s) VALUES %s',
            $this->quote($table),
            implode(', ', array_map($this->quote(...), $columns)),
            implode(', ', array_fill(0, \count($rows), $places)),
        ), $values);
    }

    /** One statement: the server moves all tables or none. */
    private function swap(string $new, string $here, string $replaced): void
    {
        $moves = [];
        foreach ([[$here, $replaced], [$new, $here]] as [$from, $to]) {
            foreach ($this->connection->fetchFirstColumn('SHOW TABLES FROM '.$this->quote($from)) as $table) {
                $name = $this->quote(\is_string($table) ? $table : '');
                $moves[] = $this->quote($from).".$name TO ".$this->quote($to).".$name";
            }
        }
        $this->connection->executeStatement('SET FOREIGN_KEY_CHECKS = 0');
        $this->connection->executeStatement('RENAME TABLE '.implode(', ', $moves));
        $this->connection->executeStatement('SET FOREIGN_KEY_CHECKS = 1');
    }

    private function quote(string $name): string
    {
        return $this->connection->getDatabasePlatform()->quoteSingleIdentifier($name);
    }
}
