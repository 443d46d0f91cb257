<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\Stop;
use Vorhut\Core\Plan\Device;

#[AsCommand('vorhut:bench', 'Shows the bench schedule: stops, lanes and laptop settings')]
final readonly class BenchCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
    ): int {
        $plan = $this->input->plan($document->file);
        $queue = Queue::of($plan);
        $lines = [];
        foreach ($queue->stops as $stop) {
            $timeline = $queue->day->timeline($stop);
            $lines[] = \sprintf(
                'Stop %d%s  %s  %s  hands %d min, in all %d min, never under %d min%s',
                $stop->number,
                $plan->job->int('benches', 1) > 1 ? ' at bench '.$stop->bench : '',
                $stop->how->value,
                null === $stop->laptop ? '' : 'laptop '.$stop->laptop.$stop->mask,
                (int) ceil($timeline->hands / 60),
                (int) ceil($timeline->finish / 60),
                (int) ceil($timeline->bound / 60),
                0 === $queue->day->begin($stop) ? '' : \sprintf(', from minute %d on', (int) ceil($queue->day->begin($stop) / 60)),
            );
            foreach ($stop->second as $second) {
                $lines[] = \sprintf('        also %s%s for %s', $second['address'], $second['mask'], $second['segment']);
            }
            foreach ($stop->lanes as $lane) {
                $lines[] = '        '.implode(', then ', array_map(static fn (Device $device): string => $device->tag, $lane));
            }
            foreach ([...$stop->notes, ...$queue->day->waits($stop)] as $note) {
                $lines[] = '        ! '.$note;
            }
        }
        $stops = array_map(static fn (Stop $stop): array => $stop->in($queue->day), $queue->stops);
        $this->input->answer($output, $document->format, ['stops' => $stops], $lines);

        return CommandInput::DONE;
    }
}
