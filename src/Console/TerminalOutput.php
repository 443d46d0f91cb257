<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Output\ConsoleOutput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Text\VisibleText;

/** What a command writes to a terminal moves no cursor and answers no question there; into a file it goes as it is. */
final class TerminalOutput extends ConsoleOutput
{
    public function write(string|iterable $messages, bool $newline = false, int $options = self::OUTPUT_NORMAL): void
    {
        if (0 === ($options & OutputInterface::OUTPUT_RAW) || !stream_isatty($this->getStream())) {
            parent::write($messages, $newline, $options);

            return;
        }
        $visible = [];
        foreach (is_iterable($messages) ? $messages : [$messages] as $message) {
            $visible[] = VisibleText::of((string) $message);
        }
        parent::write($visible, $newline, $options);
    }
}
