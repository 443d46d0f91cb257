<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\DBAL\Connection;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Malformed;
use Vorhut\Exchange\BackupFile;
use Vorhut\Exchange\Restore;
use Vorhut\Secrets\SealingKey;
use Vorhut\Secrets\Secrets;

#[AsCommand('vorhut:restore', 'Restores a backup and replaces the current data')]
final readonly class RestoreCommand
{
    /** Bytes of one line: a photo of twelve million, in base64. */
    private const LONGEST = 64_000_000;

    public function __construct(private Connection $connection, private Restore $restore, private string $keyFile)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('backup file')]
        string $file,
        #[Option('key file of the backup; default: the current key')]
        string $key = '',
        #[Option('replace existing jobs')]
        bool $over = false,
        #[Option('accept a backup without authentication, from before 1 December 2026')]
        bool $unsealed = false,
    ): int {
        if (!is_file($file) || !is_readable($file)) {
            throw BadInput::because('File "{file}" cannot be read.', ['file' => $file]);
        }
        $from = '' === $key ? $this->keyFile : $key;
        if ('' !== $key && !is_readable($key)) {
            throw BadInput::because('File "{file}" cannot be read.', ['file' => $key]);
        }
        $sealing = SealingKey::fromFile($from) ?? throw BadInput::because(
            '' === $key
                ? 'This server has no key. Name the key that belongs to the backup with --key=FILE.'
                : '"{file}" is not a key: it holds something else.',
            ['file' => $key],
        );
        $found = BackupFile::check(self::lines($file), $sealing, $unsealed);
        $tables = $this->connection->fetchFirstColumn('SHOW TABLES');
        $jobs = \in_array('job', $tables, true) ? $this->connection->fetchOne('SELECT COUNT(*) FROM job') : 0;
        if (!$over && is_numeric($jobs) && $jobs > 0) {
            throw BadInput::because('{n} jobs are here. With --over they are thrown away, and what the backup holds takes their place.', [
                'n' => (int) $jobs,
            ]);
        }
        $this->restore->restore($found, self::lines($file), fn () => $this->lay($sealing));
        $this->take($sealing);
        $output->writeln(\sprintf('%d rows of %s are back, and up to date.', $found->rows, $found->at));

        return CommandInput::DONE;
    }

    /** The key lies ready before the rows that it opens are there: broken off between the two, it opens them from there. */
    private function lay(SealingKey $key): void
    {
        if (SealingKey::fromFile($this->keyFile)?->bytes === $key->bytes) {
            return;
        }
        $umask = umask(0o077);
        @mkdir(\dirname($this->keyFile), 0o700, true);
        $written = file_put_contents($this->keyFile.Secrets::NEXT, $key->toText());
        umask($umask);
        if (false === $written) {
            throw BadInput::because('"{file}" cannot be written: is there room?', ['file' => $this->keyFile]);
        }
    }

    private function take(SealingKey $key): void
    {
        if (SealingKey::fromFile($this->keyFile)?->bytes === $key->bytes) {
            return;
        }
        // What opened the secrets that were here may be wanted again.
        if (is_file($this->keyFile)) {
            rename($this->keyFile, $this->keyFile.'.'.gmdate('YmdHis'));
        }
        rename($this->keyFile.Secrets::NEXT, $this->keyFile);
    }

    /** @return \Generator<string> */
    private static function lines(string $file): \Generator
    {
        $stream = gzopen($file, 'rb');
        while (false !== $stream && !gzeof($stream)) {
            $line = '';
            do {
                $part = gzgets($stream, 1 << 20);
                $line .= $part;
                if (\strlen($line) >= self::LONGEST) {
                    throw Malformed::because('This is not a backup that this version can read.');
                }
            } while (false !== $part && !str_ends_with($part, "\n"));
            if ('' !== $line) {
                yield $line;
            }
        }
        if (false !== $stream) {
            gzclose($stream);
        }
    }
}
