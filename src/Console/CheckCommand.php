<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\FindingGroup;

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
            [] === $findings->all ? ['No findings.'] : array_merge(...array_map(self::lines(...), FindingGroup::all($findings->all))),
        );

        return $findings->block() ? CommandInput::FOUND : CommandInput::DONE;
    }

    /** @return list<string> */
    private static function lines(FindingGroup $group): array
    {
        $first = $group->first();
        $todos = array_unique(array_map(static fn (Finding $one): string => (string) $one->todo, $group->findings));

        return [
            ...array_map(
                static fn (Finding $one): string => \sprintf('%-6s %s', $one === $first ? $one->severity->value : '', $one->what),
                $group->findings,
            ),
            '       '.$first->why,
            ...array_map(static fn (string $todo): string => '       '.$todo, array_values($todos)),
        ];
    }
}
