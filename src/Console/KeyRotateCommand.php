<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Secrets\Vault;

#[AsCommand('vorhut:key:rotate', 'Encrypts all secrets with a new key and keeps the old one until the next change')]
final readonly class KeyRotateCommand
{
    public function __construct(private CommandInput $input, private Vault $vault)
    {
    }

    public function __invoke(OutputInterface $output, #[Option('text or json')] string $format = 'text'): int
    {
        $count = $this->vault->changeKey();
        $this->input->answer($output, $format, ['sealed' => $count], [
            \sprintf('%d secrets are sealed with a new key. Copy the key file to where its copy is kept.', $count),
        ]);

        return CommandInput::DONE;
    }
}
