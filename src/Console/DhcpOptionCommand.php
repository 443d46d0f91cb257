<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option as CommandOption;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Wire\Dhcp\Option;
use Vorhut\Core\Wire\Dhcp\Options;

#[AsCommand('vorhut:dhcp-option', 'Encodes or decodes a DHCP option: 3, 6, 15, 42, 43, 51, 66, 67, 119, 120, 121, 132, 150')]
final readonly class DhcpOptionCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /** @param list<string> $value */
    public function __invoke(
        OutputInterface $output,
        #[Argument('option code')]
        int $code,
        #[Argument('its value: addresses, a name, "10.20.0.0/16 10.40.12.1", or hex with 0x')]
        array $value,
        #[CommandOption('text or json')]
        string $format = 'text',
    ): int {
        $option = Option::fromText($code, implode(' ', $value));
        $data = ['code' => $option->code, 'name' => $option->name(), 'text' => $option->text(), 'hex' => $option->hex()];
        $pieces = array_map(Options::hex(...), $option->pieces());
        $lines = array_map(
            static fn (string $name, string|int $one): string => \sprintf('%-5s %s', $name, $one),
            array_keys($data),
            $data,
        );
        if (\count($pieces) > 1) {
            $lines[] = \sprintf('sent as %d options, one after another (RFC 3396):', \count($pieces));
            $lines = [...$lines, ...$pieces];
        }
        $this->input->answer($output, $format, $data + ['pieces' => $pieces], $lines);

        return CommandInput::DONE;
    }
}
