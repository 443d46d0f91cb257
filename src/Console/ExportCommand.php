<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Exchange\Jobs;

#[AsCommand('vorhut:export', 'Prints a stored job as a document')]
final readonly class ExportCommand
{
    public function __construct(private CommandInput $input, private Jobs $jobs)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('file that contains a passphrase; the document then includes the secrets, encrypted with it')]
        ?string $passphraseFile = null,
    ): int {
        foreach ($this->jobs->export($this->input->job($job), Passphrase::fromFile($passphraseFile))->chunks() as $text) {
            $output->write($text, false, OutputInterface::OUTPUT_RAW);
        }

        return CommandInput::DONE;
    }
}
