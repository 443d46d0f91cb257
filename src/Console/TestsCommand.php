<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\Proved;

#[AsCommand('vorhut:tests', 'The test lines that a job yields, with what is expected')]
final readonly class TestsCommand
{
    public function __construct(private Desk $desk)
    {
    }

    public function __invoke(OutputInterface $output, #[Argument('a job document, or - for standard input')] string $file, #[Option('text or json')] string $format = 'text'): int
    {
        $proof = Proof::of($this->desk->plan($file));
        $this->desk->answer($output, $format, ['lines' => $proof->lines], array_map(static fn (Proved $proved): string => \sprintf('%-11s %-52s %s%s', $proved->verdict->label(), $proved->line->title, $proved->line->expected->label(), $proved->line->isForeseenToFail() ? '  (foreseen to fail: '.$proved->line->because.')' : ''), $proof->lines));

        return Desk::DONE;
    }
}
