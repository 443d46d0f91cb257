<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Doctrine\DBAL\Connection;
use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Exchange\Backup;
use Vorhut\Secrets\Secrets;

#[AsCommand('vorhut:backup', 'Backs up the whole database into one file, and the key of its secrets into another')]
final readonly class BackupCommand
{
    public function __construct(private Connection $connection, private Secrets $secrets, private string $keyFile)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('file to write; compressed if its name ends in .gz')]
        string $file,
        #[Option('file to write the key to; store it in another place than the backup')]
        string $key = '',
    ): int {
        $umask = umask(0o077);
        try {
            // Written completely and then renamed, so that an interrupted backup replaces nothing.
            $new = $file.'.new';
            $stream = @gzopen($new, str_ends_with($file, '.gz') ? 'wb6' : 'wbT');
            if (false === $stream) {
                throw BadInput::because('"{file}" cannot be written.', ['file' => $new]);
            }
            $rows = (new Backup($this->connection))->write(static function (string $line) use ($stream, $new): void {
                if (\strlen($line) !== gzwrite($stream, $line)) {
                    throw BadInput::because('"{file}" cannot be written: is there room?', ['file' => $new]);
                }
            }, $this->secrets->key(), gmdate('Y-m-d\TH:i:s\Z'));
            if (!gzclose($stream) || !rename($new, $file)) {
                throw BadInput::because('"{file}" cannot be written: is there room?', ['file' => $new]);
            }
            if ('' !== $key && (!is_file($this->keyFile) || !copy($this->keyFile, $key))) {
                throw BadInput::because('The key cannot be copied to "{file}".', ['file' => $key]);
            }
        } finally {
            umask($umask);
        }
        $output->writeln(\sprintf('%d rows in %s.', $rows, basename($file)));
        if ('' === $key) {
            $output->writeln(
                'Its secrets are encrypted. The key is not in the backup, and a restore requires it: '
                    .'--key=FILE copies the key, to be kept elsewhere.',
            );
        }

        return CommandInput::DONE;
    }
}
