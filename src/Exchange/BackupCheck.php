<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Net\Malformed;
use Vorhut\Secrets\SealingKey;

/** Looks a backup through, line by line: its head, its rows, and the code at its end that covers both. */
final class BackupCheck
{
    /** Made before backups were sealed: anybody can make one that looks whole. */
    private const UNSEALED = 1;

    private int $rows = 0;
    private string $migration = '';
    private string $table = '';
    private ?string $sealed = null;
    private bool $isWhole = false;

    private function __construct(
        private readonly SealingKey $key,
        private readonly bool $isUnsealed,
        private readonly string $at,
        private readonly \HashContext $hash,
    ) {
    }

    /**
     * @param array<mixed>|null $head     the first line
     * @param bool              $unsealed whether a backup that carries no code is taken
     *
     * @throws Malformed
     */
    public static function begin(?array $head, SealingKey $key, bool $unsealed): self
    {
        $version = $head['version'] ?? null;
        if (Backup::FORMAT !== ($head['format'] ?? null) || !\in_array($version, [self::UNSEALED, Backup::VERSION], true)) {
            throw Malformed::because('This is not a backup that this version can read.');
        }
        $isUnsealed = self::UNSEALED === $version;
        if ($isUnsealed && !$unsealed) {
            throw Malformed::because(
                'This backup was made before backups were sealed, so a change to it cannot be detected. '
                    .'If you trust its source, use --unsealed.',
            );
        }

        return new self(
            $key,
            $isUnsealed,
            \is_string($head['at'] ?? null) ? $head['at'] : '',
            $isUnsealed ? hash_init('sha256') : hash_init('sha256', \HASH_HMAC, $key->derive(Backup::PURPOSE)),
        );
    }

    /**
     * @param array<mixed>|null $data what the line holds
     *
     * @throws Malformed
     */
    public function take(string $line, ?array $data): void
    {
        if ($this->isWhole) {
            throw Malformed::because('The backup is damaged: there is data after its end.');
        }
        if (null === $data) {
            throw Malformed::because('The backup is incomplete.');
        }
        $code = $data[$this->isUnsealed ? 'sha256' : 'hmac'] ?? null;
        if (\is_string($code)) {
            $this->close($code, $data['rows'] ?? null);

            return;
        }
        hash_update($this->hash, $line);
        $this->table = \is_string($data['table'] ?? null) ? $data['table'] : $this->table;
        if (\is_array($data['row'] ?? null)) {
            $this->takeRow($data['row']);
        }
    }

    /** @param array<mixed> $row */
    private function takeRow(array $row): void
    {
        ++$this->rows;
        $this->sealed ??= self::sealedIn($row);
        if (Migrations::TABLE === $this->table && \is_string($row['version'] ?? null)) {
            $this->migration = max($this->migration, $row['version']);
        }
    }

    /** @throws Malformed if the code does not match the rows read */
    private function close(string $code, mixed $rows): void
    {
        $this->isWhole = $rows === $this->rows && hash_equals(hash_final($this->hash), $code);
        if (!$this->isWhole) {
            throw $this->isUnsealed
                ? Malformed::because('The backup is damaged: its contents do not match its checksum.')
                : Malformed::because('The backup was changed, or was made with another key. --key=FILE names the key that was kept.');
        }
    }

    /** @throws Malformed where it is not whole, or holds secrets that another key sealed */
    public function end(): BackupFile
    {
        if (!$this->isWhole) {
            throw Malformed::because('The backup is incomplete.');
        }
        if ('' === $this->migration) {
            throw Malformed::because('The backup does not say which version of Vorhut made it.');
        }
        if (null !== $this->sealed && null === $this->key->open($this->sealed)) {
            throw Malformed::because('This key does not open the secrets in the backup. --key=FILE names the one that was kept with it.');
        }

        return new BackupFile($this->rows, $this->at, $this->migration);
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
}
