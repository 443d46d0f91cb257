<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Library\About;

#[AsCommand('vorhut:about', 'Shows the version of Vorhut and the licences of the software it contains')]
final readonly class AboutCommand
{
    public function __construct(private About $about)
    {
    }

    public function __invoke(OutputInterface $output, #[Option('list all third-party packages')] bool $licences = false): int
    {
        $components = $this->about->components();
        $output->writeln(\sprintf('Vorhut %s, %s licence, PHP %s', About::VERSION, About::LICENCE, \PHP_VERSION));
        $output->writeln(\sprintf('%d third-party packages%s', \count($components), $licences ? ':' : '; --licences lists them'));
        foreach ($licences ? $components : [] as $one) {
            $output->writeln(\sprintf('  %-42s %-12s %s', $one->name, $one->version, $one->licence), OutputInterface::OUTPUT_RAW);
        }

        return CommandInput::DONE;
    }
}
