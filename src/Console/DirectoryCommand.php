<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Voice\Directory;

#[AsCommand('vorhut:directory', 'Exports the directory of a system: list, vCard 4.0 or LDIF')]
final readonly class DirectoryCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
        #[Option('tag of the system')]
        string $of = '',
        #[Option('print vCard 4.0 (RFC 6350)')]
        bool $vcard = false,
        #[Option('print LDIF (RFC 2849)')]
        bool $ldif = false,
    ): int {
        $plan = $this->input->plan($document->file);
        $device = $plan->deviceTagged($of) ?? throw BadInput::because('This job has no device "{tag}".', ['tag' => $of]);
        $directory = Directory::of($plan, $device);
        if ($vcard || $ldif) {
            $output->write($vcard ? $directory->vCard() : $directory->ldif(), false, OutputInterface::OUTPUT_RAW);

            return CommandInput::DONE;
        }
        $this->input->answer($output, $document->format, ['of' => $device->tag, 'entries' => $directory->entries], array_map(
            static fn (array $one): string => \sprintf('%-16s %-16s %s', $one['name'], $one['address'], $one['room']),
            $directory->entries,
        ));

        return CommandInput::DONE;
    }
}
