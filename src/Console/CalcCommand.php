<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Sum;

#[AsCommand(
    'vorhut:calc',
    'Calculates like the search line: "10.64.3.7 in 10.64.0.0/22", a MAC, a multicast group, a URL',
    ['vorhut:mac', 'vorhut:group'],
)]
final readonly class CalcCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $sum */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the expression')]
        array $sum,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $text = implode(' ', $sum);
        $found = Sum::tryOf($text) ?? throw Malformed::because(
            'Cannot calculate "{text}": use NETWORK, "ADDRESS in NETWORK", "NETWORK split /26", "join NETWORK NETWORK", MAC, GROUP, URL.',
            ['text' => $text],
        );
        $this->input->answer($output, $format, array_map(
            static fn (array $line): array => ['what' => $line[0], 'value' => $line[1]],
            $found->lines,
        ), array_map(static fn (array $line): string => \sprintf('%-15s %s', $line[0], $line[1]), $found->lines));

        return CommandInput::DONE;
    }
}
