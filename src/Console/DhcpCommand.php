<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Network\AdminSheet\AdminSheet;
use Vorhut\Core\Network\AdminSheet\DhcpConfiguration;

#[AsCommand('vorhut:dhcp', 'Lists DHCP scopes, reservations and options, or prints a server configuration')]
final readonly class DhcpCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('print a dnsmasq configuration')]
        bool $config = false,
    ): int {
        $plan = $this->input->plan($document->file);
        $sheet = AdminSheet::of($plan);
        if ($config) {
            $output->write(DhcpConfiguration::of($plan, $sheet), false, OutputInterface::OUTPUT_RAW);

            return CommandInput::DONE;
        }
        $data = $lines = [];
        foreach ($sheet->options as $one) {
            foreach ($one['options'] as $option) {
                $data[] = ['segment' => $one['segment']->key, 'code' => $option->code, 'text' => $option->text(), 'hex' => $option->hex()];
                $lines[] = \sprintf('%-20s %3d %-20s %s', $one['segment']->name, $option->code, $option->text(), $option->hex());
            }
        }
        foreach ($sheet->reservations as $one) {
            $lines[] = \sprintf('%-20s %s %-16s %s', $one['segment']->name, $one['mac'], $one['address'], $one['device']);
        }
        $this->input->answer($output, $document->format, ['options' => $data, 'reservations' => array_map(static fn (array $one): array => [
            'segment' => $one['segment']->key,
            'mac' => $one['mac'],
            'address' => $one['address'],
            'device' => $one['device'],
        ], $sheet->reservations)], $lines);

        return CommandInput::DONE;
    }
}
