<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Network;

#[AsCommand('vorhut:split', 'Splits a network into equal parts, or joins networks')]
final readonly class SplitCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $networks */
    public function __invoke(
        OutputInterface $output,
        #[Argument('NETWORK/PREFIX; several are joined')]
        array $networks,
        #[Option('prefix length of the parts')]
        int $into = 0,
        #[Option('number of hosts in each part')]
        int $hosts = 0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $given = array_map(Network::fromString(...), $networks);
        if ([] === $given) {
            throw new BadInput('Which network?');
        }
        if (1 === \count($given)) {
            $prefix = match (true) {
                $into > 0 => $into,
                $hosts > 0 => 32 - (int) ceil(log($hosts + 2, 2)),
                default => throw new Malformed('Say into what: --into=26 or --hosts=50.'),
            };
            $given = $given[0]->split($prefix);
        } else {
            $given = Network::merge($given);
        }
        $texts = array_map(strval(...), $given);
        $this->input->answer($output, $format, ['networks' => $texts], $texts);

        return CommandInput::DONE;
    }
}
