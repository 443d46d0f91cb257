<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Media\Latency;

#[AsCommand('vorhut:latency', 'Calculates audio latency; exit code 1 if it exceeds the limit')]
final readonly class LatencyCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    /**
     * @param list<string> $samples
     * @param list<string> $hop
     */
    public function __invoke(
        OutputInterface $output,
        #[Option('samples of a buffer or a plug-in; can be repeated')]
        array $samples = [],
        #[Option('network delay in ms; can be repeated')]
        array $hop = [],
        #[Option('sample rate in Hz')]
        int $rate = 48000,
        #[Option('limit in ms; 0 for none')]
        float $most = 0.0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        foreach ([...$samples, ...$hop] as $one) {
            if (!is_numeric($one) || (float) $one < 0 || (float) $one > 1e7) {
                throw BadInput::because('"{text}" is not a number of samples or ms.', ['text' => mb_substr($one, 0, 20)]);
            }
        }
        if ($rate < 8000 || $rate > 384000 || [] === [...$samples, ...$hop]) {
            throw new BadInput('--samples or --hop is needed, and --rate between 8000 and 384000.');
        }
        $latency = Latency::of($rate, array_map(intval(...), $samples), array_map(floatval(...), $hop));
        $this->input->answer($output, $format, $latency, [
            \sprintf('%d samples at %d Hz, %.3f ms in all', $latency->samples, $rate, $latency->milliseconds),
        ]);

        return $most > 0 && $latency->milliseconds > $most ? CommandInput::FOUND : CommandInput::DONE;
    }
}
