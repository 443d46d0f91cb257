<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Bench\Keypad;
use Vorhut\Core\Bench\KeypadProfile;

#[AsCommand('vorhut:keypad', 'Converts text into key presses on a twelve-key pad')]
final readonly class KeypadCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[Argument('text to enter')]
        string $text,
        #[Option('keypad profile')]
        string $profile = 'mode-key',
        #[Option('text or json')]
        string $format = 'text',
        #[Option('exactly this text, without a shorter equivalent')]
        bool $exact = false,
    ): int {
        $known = KeypadProfile::find($profile)
            ?? throw BadInput::because('--profile is one of {list}, not "{profile}".', [
                'list' => implode(', ', KeypadProfile::names()),
                'profile' => $profile,
            ]);
        $keypad = $exact ? Keypad::of($text, $known) : Keypad::shortest($text, $known);
        $this->input->answer($output, $format, $keypad, [
            (string) $keypad,
            \sprintf('%d presses, %d pauses, types %s', $keypad->presses, $keypad->pauses, $keypad->text),
        ]);

        return CommandInput::DONE;
    }
}
