<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Sound\SoundNetwork;

#[AsCommand('vorhut:sound', 'Sound over networks: rates, the clock, channels; exit code 1 when they are out of step')]
final readonly class SoundCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('a job document')]
        string $file,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $plan = $this->input->plan($file);
        $networks = SoundNetwork::all($plan);
        $lines = [];
        $isFine = true;
        foreach ($networks as $one) {
            $isFine = $isFine && $one->isLed() && \count($one->rates) < 2 && [] === $one->overfull();
            $lines[] = \sprintf(
                '%s  clock %s  %.2f Mbit/s sent',
                $plan->segments[$one->segment]->name ?? $one->segment,
                $one->leader->tag ?? ([] === $one->leaders ? 'NOBODY LEADS' : 'SEVERAL LEAD'),
                $one->mbps,
            );
            foreach ($one->rates as $rate => $devices) {
                foreach ($devices as $device) {
                    $of = $one->channels[$device->key];
                    $lines[] = \sprintf(
                        '  %-12s %5s kHz  %-9s  sends %d%s',
                        $device->tag,
                        $rate,
                        SoundNetwork::role($device),
                        $of['sends'],
                        null === $of['has'] ? '' : ' of '.$of['has'].' channels',
                    );
                }
            }
        }
        $this->input->answer($output, $format, $networks, $lines);

        return $isFine ? CommandInput::DONE : CommandInput::FOUND;
    }
}
