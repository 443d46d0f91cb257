<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Voice\Quality;

#[AsCommand('vorhut:mos', 'Calculates call quality from delay and loss (ITU-T G.107)')]
final readonly class MosCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Option('one-way delay in ms')]
        float $delay = 0.0,
        #[Option('packet loss in percent')]
        float $loss = 0.0,
        #[Option('G.711, G.711 PLC or G.729A')]
        string $codec = 'G.711',
        #[Option('burst ratio: 1 for random loss, higher for bursts')]
        float $burst = 1.0,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        if (!\in_array($codec, Quality::ratedCodecs(), true)) {
            throw BadInput::because(
                '--codec is one of {codecs}, not "{codec}".',
                ['codecs' => implode(', ', Quality::ratedCodecs()), 'codec' => $codec],
            );
        }
        if ($delay < 0 || $loss < 0 || $loss > 100 || $burst < 1) {
            throw new BadInput('The delay must be at least 0 ms, the loss 0 to 100 %, the burst ratio at least 1.');
        }
        $rating = Quality::rating($delay, $loss, $codec, $burst);
        $data = ['rating' => round($rating, 1), 'score' => round(Quality::score($rating), 2)];
        $this->input->answer($output, $format, $data, [\sprintf('R %.1f, MOS %.2f', $data['rating'], $data['score'])]);

        return CommandInput::DONE;
    }
}
