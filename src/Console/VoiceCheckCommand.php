<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Finding\Finding;

#[AsCommand('vorhut:voice:check', 'Lists findings for numbers, routes, trunks, ring groups and menus')]
final readonly class VoiceCheckCommand
{
    private const ABOUT = ['extensions', 'accounts', 'trunks', 'callRoutes', 'inboundRoutes', 'ringGroups', 'menus', 'timeFrames'];

    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
    ): int {
        $found = array_values(array_filter(
            Findings::of($this->input->plan($document->file), ShippedRules::all())->all,
            static fn (Finding $one): bool => str_starts_with($one->code, 'emergency-') || [] !== array_filter(
                $one->records,
                static fn (string $record): bool => \in_array(explode('/', $record)[0], self::ABOUT, true),
            ),
        ));
        $this->input->answer($output, $document->format, $found, [] === $found ? ['Nothing found.'] : array_map(
            static fn (Finding $one): string => $one->severity->value.': '.$one->what.' '.$one->todo,
            $found,
        ));

        return [] === $found ? CommandInput::DONE : CommandInput::FOUND;
    }
}
