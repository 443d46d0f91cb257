<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Document\JsonSchema;

#[AsCommand('vorhut:schema', 'Prints the JSON Schema of the job document or of a library file')]
final readonly class SchemaCommand
{
    private const LIBRARY = ['kind', 'settings', 'agreement'];

    public function __construct(private string $projectDir)
    {
    }

    public function __invoke(OutputInterface $output, #[Argument('job, kind, settings or agreement')] string $of = 'job'): int
    {
        $of = \in_array($of, ['job', ...self::LIBRARY], true) ? $of : throw BadInput::because(
            'Unknown schema "{of}": use job, kind, settings or agreement.',
            ['of' => $of],
        );
        // The schema of the job is generated from the fields; those of the library are written by hand in schema/.
        $json = 'job' === $of ? JsonSchema::json() : (string) file_get_contents($this->projectDir."/schema/$of.schema.json");
        $output->write($json, false, OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
