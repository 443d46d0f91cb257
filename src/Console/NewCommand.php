<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\CreateJob;
use Vorhut\Application\FieldErrors;

#[AsCommand('vorhut:new', 'Creates a job, with networks and a roster from a text file; exit code 1 if the roster needs a decision')]
final readonly class NewCommand
{
    public function __construct(private CommandInput $input, private CreateJob $createJob)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('name of the job')]
        string $name,
        #[Argument('file with networks, one on a line, then a table of devices')]
        string $file = '',
        #[Option('country, by code or English name')]
        string $country = '',
        #[Option('customer')]
        string $customer = '',
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $text = '' === $file ? '' : $this->input->text($file);
        try {
            [$job, $left] = $this->createJob->create($name, $country, $customer, $text, $by);
        } catch (FieldErrors $e) {
            throw BadInput::saying($e->message());
        }
        $output->writeln("$job->slug created.", OutputInterface::OUTPUT_RAW);
        if ('' === $left) {
            return CommandInput::DONE;
        }
        $output->writeln('The table was not added. Check it with vorhut:paste.', OutputInterface::OUTPUT_RAW);

        return CommandInput::FOUND;
    }
}
