<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\DBAL\Connection;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Exchange\Backup;

#[AsCommand('vorhut:restore', 'Puts a backup back; what was here before is gone')]
final readonly class RestoreCommand
{
    public function __construct(private Connection $connection, private string $keyFile)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('file that vorhut:backup wrote')]
        string $file,
        #[Option('the key of its secrets, which was kept apart')]
        string $key = '',
        #[Option('also where jobs are here: they are thrown away')]
        bool $over = false,
    ): int {
        is_file($file) && is_readable($file) || throw BadInput::because('There is no file "{file}" to read.', ['file' => $file]);
        '' === $key || is_readable($key) || throw BadInput::because('There is no file "{file}" to read.', ['file' => $key]);
        $found = Backup::check(self::lines($file));
        $tables = $this->connection->fetchFirstColumn('SHOW TABLES');
        $jobs = \in_array('job', $tables, true) ? $this->connection->fetchOne('SELECT COUNT(*) FROM job') : 0;
        if (!$over && is_numeric($jobs) && $jobs > 0) {
            throw BadInput::because('{n} jobs are here. With --over they are thrown away, and what the backup holds takes their place.', [
                'n' => (int) $jobs,
            ]);
        }
        (new Backup($this->connection))->restore(self::lines($file));
        if ('' !== $key && realpath($key) !== realpath($this->keyFile)) {
            $umask = umask(0o077);
            // What opened the secrets that were here may be wanted again.
            is_file($this->keyFile) && rename($this->keyFile, $this->keyFile.'.'.gmdate('YmdHis'));
            copy($key, $this->keyFile);
            umask($umask);
        }
        $output->writeln(\sprintf('%d rows of %s are back.', $found['rows'], $found['at']));
        $output->writeln('Bring it up to date: bin/console doctrine:migrations:migrate --no-interaction');

        return CommandInput::DONE;
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
            } while (false !== $part && !str_ends_with($part, "\n"));
            yield $line;
        }
        false === $stream || gzclose($stream);
    }
}
