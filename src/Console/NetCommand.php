<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

#[AsCommand('vorhut:net', 'Explains an address and its prefix')]
final readonly class NetCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('ADDRESS/PREFIX')]
        string $address,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $parts = explode('/', $address, 2);
        if (2 !== \count($parts)) {
            throw Malformed::because('"{address}": write an address with its prefix, as 10.40.12.77/22.', ['address' => $address]);
        }
        $host = Ipv4::fromString($parts[0]);
        $network = Network::around($host, Mask::fromString($parts[1]));
        $data = [
            'address' => (string) $host,
            'network' => (string) $network,
            'mask' => $network->mask->toDotted(),
            'wildcard' => (string) Ipv4::fromNumber(~$network->mask->bits() & 0xFFFFFFFF),
            'first' => (string) $network->firstHost(),
            'last' => (string) $network->lastHost(),
            'broadcast' => (string) $network->broadcast(),
            'hosts' => $network->hosts(),
            'edge' => $network->isEdge($host),
        ];
        $this->input->answer(
            $output,
            $format,
            $data,
            array_map(
                static fn (string $name, string|int|bool $value): string => \sprintf(
                    '%-10s %s',
                    $name,
                    match (true) {
                        !\is_bool($value) => $value,
                        $value => 'yes: no host may hold this address',
                        default => 'no',
                    },
                ),
                array_keys($data),
                $data,
            ),
        );

        return CommandInput::DONE;
    }
}
