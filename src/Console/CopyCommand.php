<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\CopyJob;
use Vorhut\Application\FieldErrors;

#[AsCommand('vorhut:copy', 'Creates a job with the plan of another one, without marks, results, MAC addresses and secrets')]
final readonly class CopyCommand
{
    public function __construct(private CommandInput $input, private CopyJob $copyJob)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('name of the new job')]
        string $name,
    ): int {
        try {
            $copy = $this->copyJob->copy($this->input->job($job), $name);
        } catch (FieldErrors $e) {
            throw BadInput::saying($e->message());
        }
        $output->writeln("$copy->slug created.", OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
