<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Network\Discovery\Findable;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;

#[AsCommand('vorhut:discover', 'Shows which discovery protocols find each device from a segment, and why not')]
final readonly class DiscoverCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('key of the segment to discover from')]
        string $from = '',
        #[Option('tag of one device')]
        string $of = '',
    ): int {
        $plan = $this->input->plan($document->file);
        $this->input->place($plan, $from);
        $model = NetworkModel::of($plan, Face::Set);
        $data = $lines = [];
        foreach ('' === $of ? $plan->devices : [$this->input->device($plan, $of)] as $device) {
            $ways = [] === $device->activeNics() ? [] : Findable::all($model, $from, $device);
            if ([] === $ways) {
                continue;
            }
            $data[] = ['device' => $device->tag, 'ways' => $ways];
            foreach ($ways as $way) {
                $lines[] = \sprintf(
                    '%-12s %-26s %-5s %s',
                    $device->tag,
                    $way->method->name,
                    match (true) {
                        null === $way->found => '?',
                        $way->found => 'yes',
                        default => 'no',
                    },
                    $way->why,
                );
            }
        }
        $this->input->answer($output, $document->format, ['from' => $from, 'devices' => $data], $lines);

        return CommandInput::DONE;
    }
}
