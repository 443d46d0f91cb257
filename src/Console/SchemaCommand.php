<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Document\JsonSchema;

#[AsCommand('vorhut:schema', 'Prints the JSON Schema of the job document')]
final readonly class SchemaCommand
{
    public function __invoke(OutputInterface $output): int
    {
        $output->write(JsonSchema::json(), false, OutputInterface::OUTPUT_RAW);

        return Desk::DONE;
    }
}
