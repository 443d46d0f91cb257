<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\DeleteJob;
use Vorhut\Application\FieldErrors;

#[AsCommand('vorhut:delete', 'Deletes a job with its history, evidence and secrets; this cannot be undone')]
final readonly class DeleteCommand
{
    public function __construct(private CommandInput $input, private DeleteJob $deleteJob)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('its name, to confirm')]
        string $name,
        #[Option('name for the sign-in log')]
        string $by = 'console',
    ): int {
        try {
            $this->deleteJob->delete($this->input->job($job), $name, $by, '');
        } catch (FieldErrors $e) {
            throw BadInput::saying($e->message());
        }
        $output->writeln("$job deleted.", OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
