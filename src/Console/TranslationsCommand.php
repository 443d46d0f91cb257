<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Library\Sentences;

#[AsCommand('vorhut:translations', 'Collects all translatable texts into translations/messages.en.yaml')]
final readonly class TranslationsCommand
{
    public function __construct(private Sentences $sentences, private string $projectDir)
    {
    }

    public function __invoke(OutputInterface $output, #[Option('only report whether the file is up to date')] bool $check = false): int
    {
        $file = $this->projectDir.'/translations/messages.en.yaml';
        $wanted = $this->sentences->yaml();
        $isRight = is_file($file) && $wanted === file_get_contents($file);
        if (!$check) {
            file_put_contents($file, $wanted);
        }
        $output->writeln(\sprintf(
            '%d sentences%s',
            \count($this->sentences->all()),
            match (true) {
                $isRight => ', all of them in the file.',
                $check => '; the file is out of date.',
                default => ' written.',
            },
        ));

        return $isRight || !$check ? CommandInput::DONE : CommandInput::FOUND;
    }
}
