<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Application as ConsoleApplication;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Text\Glossary;
use Vorhut\Core\Text\GlossaryTerm;

#[AsCommand('vorhut:docs', 'Writes docs/cli.md and docs/glossary.md')]
final readonly class DocsCommand
{
    public function __construct(private string $projectDir)
    {
    }

    public function __invoke(
        OutputInterface $output,
        ConsoleApplication $application,
        #[Option('only report whether the files are up to date')]
        bool $check = false,
    ): int {
        $outdated = [];
        foreach (['docs/cli.md' => self::cli($application), 'docs/glossary.md' => self::glossary()] as $file => $text) {
            if ((string) @file_get_contents($this->projectDir.'/'.$file) !== $text) {
                $outdated[] = $file;
                if (!$check) {
                    file_put_contents($this->projectDir.'/'.$file, $text);
                }
            }
        }
        $output->writeln([] === $outdated ? 'docs/cli.md and docs/glossary.md are up to date.' : implode("\n", $outdated));

        return [] === $outdated || !$check ? CommandInput::DONE : CommandInput::FOUND;
    }

    private static function glossary(): string
    {
        $lines = array_map(
            static fn (GlossaryTerm $one): string => '- **'.$one->term.'**: '.$one->meaning,
            Glossary::terms(),
        );

        return "# Glossary\n\n<!-- Made by bin/console vorhut:docs from Core\\Text\\Glossary. -->\n\n".implode("\n", $lines)."\n";
    }

    private static function cli(ConsoleApplication $application): string
    {
        $text = "# Commands\n\n<!-- Made by bin/console vorhut:docs from the commands' help. -->\n\n"
            ."Commands that read a job document accept `-` for standard input. `--format=json` prints JSON.\n"
            ."Exit codes: 0 success, 1 a blocking finding or a failed test, 2 invalid input, with one line on standard error.\n";
        $commands = array_filter($application->all('vorhut'), static fn (Command $one): bool => !$one->isHidden());
        ksort($commands);
        foreach ($commands as $name => $command) {
            if ($name === $command->getName()) {
                $text .= self::command($command);
            }
        }

        return $text;
    }

    private static function command(Command $command): string
    {
        $definition = $command->getNativeDefinition();
        $rows = '';
        foreach ($definition->getArguments() as $argument) {
            $rows .= \sprintf("| `%s` | %s |\n", self::argumentName($argument), $argument->getDescription());
        }
        foreach ($definition->getOptions() as $option) {
            $rows .= \sprintf("| `%s` | %s |\n", self::optionName($option), $option->getDescription());
        }

        return \sprintf("\n## %s\n\n%s.\n", $command->getName(), rtrim($command->getDescription(), '.'))
            .('' === $rows ? '' : "\n| argument or option | meaning |\n| --- | --- |\n".$rows);
    }

    private static function argumentName(InputArgument $argument): string
    {
        $name = strtoupper($argument->getName()).($argument->isArray() ? '...' : '');

        return $argument->isRequired() ? $name : '['.$name.']';
    }

    private static function optionName(InputOption $option): string
    {
        $default = $option->getDefault();

        return '--'.$option->getName().match (true) {
            !$option->acceptValue() => '',
            \is_scalar($default) && '' !== (string) $default && !\is_bool($default) => '='.$default,
            default => '='.strtoupper($option->getName()),
        };
    }
}
