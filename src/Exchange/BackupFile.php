<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Net\Malformed;
use Vorhut\Secrets\SealingKey;

/** A backup while it is read: verified to its end before any of it is used, and only its rows are. */
final readonly class BackupFile
{
    /** Levels of JSON: line, row, bytes. */
    private const DEPTH = 4;

    public function __construct(public int $rows, public string $at, public string $migration)
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
        $check = null;
        foreach ($lines as $line) {
            $data = self::decode($line);
            $check ??= BackupCheck::begin($data, $key, $unsealed);
            $check->take($line, $data);
        }

        return null === $check ? throw Malformed::because('This is not a backup that this version can read.') : $check->end();
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
