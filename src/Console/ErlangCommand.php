<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Voice\Quality;
use Vorhut\Core\Voice\Traffic;

#[AsCommand('vorhut:erlang', 'Calculates simultaneous calls (Erlang B), media ports and bit rate')]
final readonly class ErlangCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('calls in the busy hour')]
        float $calls = 0.0,
        #[Option('call duration in seconds')]
        float $seconds = 180.0,
        #[Option('traffic in Erlang, instead of --calls and --seconds')]
        float $erlang = 0.0,
        #[Option('accepted share of blocked calls')]
        float $blocking = Traffic::BLOCKING,
        #[Option('number of lines: calculates the share of blocked calls')]
        int $lines = 0,
        #[Option('G.711, G.722 or G.729')]
        string $codec = 'G.711',
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $traffic = $erlang > 0 ? $erlang : Traffic::erlang($calls, $seconds);
        if ($traffic <= 0) {
            throw new BadInput('--calls or --erlang is needed.');
        }
        if (!\in_array($codec, Quality::knownBitRates(), true)) {
            throw BadInput::because(
                '--codec is one of {codecs}, not "{codec}".',
                ['codecs' => implode(', ', Quality::knownBitRates()), 'codec' => $codec],
            );
        }
        $needed = Traffic::lines($traffic, $blocking);
        $at = $lines > 0 ? $lines : $needed;
        $rate = Quality::rate($codec);
        $data = [
            'erlang' => round($traffic, 3),
            'lines' => $needed,
            'lost' => round(Traffic::blocking($traffic, $at), 5),
            'mediaPorts' => Traffic::mediaPorts($at),
            'kbitEachWay' => round($at * $rate['ethernet'], 1),
        ];
        $this->input->answer($output, $format, $data, [
            \sprintf('traffic      %.3f Erlang', $traffic),
            \sprintf('lines        %d for at most %.2f %% lost', $needed, 100 * $blocking),
            \sprintf('lost         %.2f %% with %d lines', 100 * $data['lost'], $at),
            \sprintf('ports        %d for sound', $data['mediaPorts']),
            \sprintf('bit rate     %.1f kbit/s each way on Ethernet, %s', $data['kbitEachWay'], $codec),
        ]);

        return CommandInput::DONE;
    }
}
