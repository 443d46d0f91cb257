<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option as CommandOption;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Wire\Dhcp\Option;

#[AsCommand('vorhut:option', 'A DHCP option as text and as hex: 3, 6, 15, 42, 43, 51, 66, 67, 119, 120, 121')]
final readonly class OptionCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $value */
    public function __invoke(
        OutputInterface $output,
        #[Argument('its number')]
        int $code,
        #[Argument('what it says: addresses, a name, "10.20.0.0/16 10.40.12.1", or 0x and hex')]
        array $value,
        #[CommandOption('text or json')]
        string $format = 'text',
    ): int {
        $option = Option::fromText($code, implode(' ', $value));
        $data = ['code' => $option->code, 'name' => $option->name(), 'text' => $option->text(), 'hex' => $option->hex()];
        $this->input->answer($output, $format, $data, array_map(
            static fn (string $name, string|int $one): string => \sprintf('%-5s %s', $name, $one),
            array_keys($data),
            $data,
        ));

        return CommandInput::DONE;
    }
}
