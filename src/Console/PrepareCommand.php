<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Application\FieldErrors;
use Vorhut\Application\PrepareDevice;

#[AsCommand('vorhut:prepare', 'Prepares the run sheet for one device, without a job of its own')]
final readonly class PrepareCommand
{
    public function __construct(private PrepareDevice $prepareDevice)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('the kind: its code, its name or another word for it')]
        string $kind,
        #[Option('MAC or serial number on the label')]
        string $label = '',
        #[Option('10.20.3.0/24, 10.20.3.23/24, isolated, or ask')]
        string $network = 'ask',
        #[Option('name for the history')]
        string $by = 'console',
    ): int {
        try {
            [$job, $device] = $this->prepareDevice->prepare($kind, $label, $network, $by);
        } catch (FieldErrors $e) {
            throw BadInput::saying($e->message());
        }
        $output->writeln("$device->tag added. Its run sheet: vorhut:sheet $job->slug --of=$device->tag", OutputInterface::OUTPUT_RAW);

        return CommandInput::DONE;
    }
}
