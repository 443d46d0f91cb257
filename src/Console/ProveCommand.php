<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\Argument;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\Option;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Journal\Author;
use Vorhut\Journal\Records;
use Vorhut\Outpost\Orders\ProbeRun;

#[AsCommand('vorhut:prove', 'Runs the tests of a job from this machine; exit code 1 if one fails')]
final readonly class ProveCommand
{
    public function __construct(private CommandInput $input, private Records $records, private ProbeRun $round)
    {
    }

    /** @param list<string> $test */
    public function __invoke(
        OutputInterface $output,
        #[Argument('the job')]
        string $job,
        #[Option('keys of the tests to run')]
        array $test = [],
        #[Option('only tests that failed, are outdated or have not run')]
        bool $open = false,
        #[Option('text or json')]
        string $format = 'text',
    ): int {
        $stored = $this->input->job($job);
        $keys = [] === $test ? null : $test;
        if ($open) {
            $keys = array_map(
                static fn (TestResult $result): string => $result->test->key,
                Proof::of($this->records->plan($stored))->open($stored->isRehearsing(), $stored->rehearsed),
            );
        }
        $this->round->run($stored, $keys, Author::OUTPOST, 'text' === $format ? static function (ProofTest $done) use ($output): void {
            if ($output->isVerbose()) {
                $output->writeln('proved '.$done->title, OutputInterface::OUTPUT_RAW);
            }
        } : null);
        $proof = Proof::of($this->records->plan($stored));
        $this->input->answer($output, $format, ['tests' => $proof->results], array_map(static fn (TestResult $result): string => \sprintf(
            '%-11s %-50s %s%s',
            $result->verdict->label(),
            $result->test->title,
            $result->observedOutcome()?->label() ?? '',
            match (true) {
                Verdict::Failed === $result->verdict => ', required: '.$result->test->wanted->label(),
                null !== $result->missing => ', '.$result->missing.' is not connected yet',
                null !== $result->unasked => ', cannot be tested from here: '.$result->unasked->detail,
                null !== $result->rehearsal => ', rehearsed: '.$result->rehearsal->verdict->label(),
                default => '',
            },
        ), $proof->results));

        return [] === $proof->with(Verdict::Failed) ? CommandInput::DONE : CommandInput::FOUND;
    }
}
