<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\ImportJob;

#[AsCommand('vorhut:import', 'Imports a job document as a new job')]
final readonly class ImportCommand
{
    public function __construct(private CommandInput $input, private ImportJob $importJob)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('name of the job in URLs')]
        ?string $slug = null,
        #[Option('file that contains the passphrase of its secrets')]
        ?string $passphraseFile = null,
    ): int {
        $job = $this->importJob->import($this->input->document($document->file), $slug, Passphrase::fromFile($passphraseFile));
        $this->input->answer($output, $document->format, ['job' => $job->slug], ['Imported as '.$job->slug.'.']);

        return CommandInput::DONE;
    }
}
