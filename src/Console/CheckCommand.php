<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;

#[AsCommand('vorhut:check', 'Lists the findings of a job; exit code 1 if one is blocking')]
final readonly class CheckCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
    ): int {
        $findings = Findings::of($this->input->plan($document->file), ShippedRules::all());
        $this->input->answer(
            $output,
            $document->format,
            ['findings' => $findings->all],
            [] === $findings->all ? ['No findings.'] : array_merge(...array_map(static fn (Finding $finding): array => [
                \sprintf('%-6s %s', $finding->severity->value, $finding->what),
                '       '.$finding->why,
                '       '.$finding->todo,
            ], $findings->all)),
        );

        return $findings->block() ? CommandInput::FOUND : CommandInput::DONE;
    }
}
