<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Net\Malformed;
use Vorhut\Secrets\SealingKey;

/** A backup as it is read: looked through to its end before anything of it is believed, and rows alone are taken out of it. */
final readonly class BackupFile
{
    /** Made before backups were sealed: anybody can make one that looks whole. */
    private const UNSEALED = 1;
    /** Levels of JSON: line, row, bytes. */
    private const DEPTH = 4;

    private function __construct(public int $rows, public string $at, public string $migration)
    {
    }

    /**
     * @param iterable<string> $lines
     * @param bool             $unsealed whether one that carries no code is taken
     *
     * @throws Malformed where it is none, not whole, not made with this key, or holds secrets that another key sealed
     */
    public static function check(iterable $lines, SealingKey $key, bool $unsealed = false): self
    {
        $version = $at = $found = null;
        $rows = 0;
        $migration = '';
        $hash = null;
        $sealed = null;
        $table = '';
        foreach ($lines as $line) {
            if (null !== $found) {
                throw Malformed::because('The backup is damaged: something stands behind its end.');
            }
            $data = self::decode($line);
            if (null === $version) {
                $version = self::versionOf($data);
                if (self::UNSEALED === $version && !$unsealed) {
                    throw Malformed::because(
                        'This backup was made before backups were sealed: nobody can say whether it was changed. '
                            .'If you know where it comes from, --unsealed takes it.',
                    );
                }
                $at = \is_string($data['at'] ?? null) ? $data['at'] : '';
                $hash = self::UNSEALED === $version
                    ? hash_init('sha256')
                    : hash_init('sha256', \HASH_HMAC, $key->derive(Backup::PURPOSE));
            }
            if (null === $data) {
                break;
            }
            $code = $data[self::UNSEALED === $version ? 'sha256' : 'hmac'] ?? null;
            if (\is_string($code)) {
                if ($data['rows'] !== $rows || !hash_equals(hash_final($hash), $code)) {
                    throw self::UNSEALED === $version
                        ? Malformed::because('The backup is damaged: it does not hold what was written into it.')
                        : Malformed::because(
                            'The backup was changed, or was made with another key. --key=FILE names the key that was kept.',
                        );
                }
                $found = new self($rows, (string) $at, $migration);
                continue;
            }
            hash_update($hash, $line);
            $table = \is_string($data['table'] ?? null) ? $data['table'] : $table;
            $row = \is_array($data['row'] ?? null) ? $data['row'] : null;
            if (null !== $row) {
                ++$rows;
                $sealed ??= self::sealedIn($row);
                if (Migrations::TABLE === $table && \is_string($row['version'] ?? null)) {
                    $migration = max($migration, $row['version']);
                }
            }
        }
        if (null === $found) {
            throw Malformed::because(null === $version ? 'This is no backup that this program can read.' : 'The backup breaks off.');
        }
        if ('' === $migration) {
            throw Malformed::because('The backup does not say which version of Vorhut made it.');
        }
        if (null !== $sealed && null === $key->open($sealed)) {
            throw Malformed::because('This key does not open the secrets in the backup. --key=FILE names the one that was kept with it.');
        }

        return $found;
    }

    /**
     * @param iterable<string> $lines that check() found whole
     *
     * @return \Generator<int, array{string, array<string, scalar|null>}> table, and what the row holds by column
     */
    public static function rows(iterable $lines): \Generator
    {
        $table = '';
        foreach ($lines as $line) {
            $data = self::decode($line);
            $table = \is_string($data['table'] ?? null) ? $data['table'] : $table;
            $row = \is_array($data['row'] ?? null) ? $data['row'] : null;
            if (null === $row || Migrations::TABLE === $table) {
                continue;
            }
            $held = [];
            foreach ($row as $column => $value) {
                $held[(string) $column] = self::decodeValue($value);
            }
            yield [$table, $held];
        }
    }

    /** @return array<mixed>|null */
    private static function decode(string $line): ?array
    {
        $data = json_decode($line, true, self::DEPTH);

        return \is_array($data) ? $data : null;
    }

    /** @param array<mixed>|null $first */
    private static function versionOf(?array $first): int
    {
        $version = $first['version'] ?? null;
        if (Backup::FORMAT !== ($first['format'] ?? null) || !\in_array($version, [self::UNSEALED, Backup::VERSION], true)) {
            throw Malformed::because('This is no backup that this program can read.');
        }

        return $version;
    }

    /** @param array<mixed> $row */
    private static function sealedIn(array $row): ?string
    {
        foreach ($row as $column => $value) {
            if (\is_string($value) && '' !== $value && ('sealed' === $column || str_ends_with((string) $column, '_sealed'))) {
                return $value;
            }
        }

        return null;
    }

    /** @return scalar|null */
    private static function decodeValue(mixed $value): string|int|float|bool|null
    {
        return match (true) {
            \is_array($value) && \is_string($value['bytes'] ?? null) => (string) base64_decode($value['bytes'], true),
            \is_scalar($value) => $value,
            default => null,
        };
    }
}
