<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\AddDevices;
use Vorhut\Application\FieldErrors;
use Vorhut\Journal\Records;

#[AsCommand('vorhut:add', 'Adds a device, or a series of equal ones, to a job')]
final readonly class AddCommand
{
    public function __construct(private CommandInput $input, private Records $records, private AddDevices $addDevices)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Argument('kind, by its name or another word for it, such as "PTZ"')]
        string $kind,
        #[Option('tag; with several devices, the first of them; without it, the next one of this kind')]
        string $tag = '',
        #[Option('room')]
        string $room = '',
        #[Option('segment, by name, network or VLAN')]
        string $segment = '',
        #[Option('MAC or serial number of a single device')]
        string $label = '',
        #[Option('how many devices')]
        string $count = '1',
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        $stored = $this->input->job($job);
        try {
            $new = $this->addDevices->add($stored, $this->records->plan($stored), [
                'kind' => $kind,
                'tag' => $tag,
                'room' => $room,
                'segment' => $segment,
                'label' => $label,
                'count' => $count,
            ], $by);
        } catch (FieldErrors $e) {
            throw BadInput::saying($e->message());
        }
        $output->writeln((string) $new->change->why, OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
