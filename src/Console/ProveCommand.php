<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\Proved;
use Vorhut\Core\Proof\TestLine;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Round;

#[AsCommand('vorhut:prove', 'Proves the lines of a job from here; exit code 1 when one is contrary')]
final readonly class ProveCommand
{
    public function __construct(private Desk $desk, private Records $records, private Round $round)
    {
    }

    /** @param list<string> $line */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('only these lines (their keys)')]
        array $line = [],
        #[Option('only lines that are contrary, stale or not yet observed')]
        bool $open = false,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $stored = $this->desk->job($job);
        $keys = [] === $line ? null : $line;
        if ($open) {
            $keys = array_map(static fn (Proved $proved): string => $proved->line->key, Proof::of($this->records->plan($stored))->with(Verdict::Contrary, Verdict::Stale, Verdict::NotYet));
        }
        $this->round->run($stored, $keys, 'Outpost', 'text' === $format ? static function (TestLine $done) use ($output): void {
            $output->isVerbose() && $output->writeln('proved '.$done->title, OutputInterface::OUTPUT_RAW);
        } : null);
        $proof = Proof::of($this->records->plan($stored));
        $this->desk->answer($output, $format, ['lines' => $proof->lines], array_map(static fn (Proved $proved): string => \sprintf(
            '%-11s %-50s %s%s',
            $proved->verdict->label(),
            $proved->line->title,
            $proved->observed()?->label() ?? '',
            match (true) {
                Verdict::Contrary === $proved->verdict => ', wanted: '.$proved->line->wanted->label(),
                null !== $proved->missing => ', '.$proved->missing.' is not plugged in yet',
                default => '',
            },
        ), $proof->lines));

        return [] === $proof->with(Verdict::Contrary) ? Desk::DONE : Desk::FOUND;
    }
}
