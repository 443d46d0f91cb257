<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Attribute\MapInput;
use Symfony\Component\Console\Output\OutputInterface;
use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Voice\Test\CallCover;

#[AsCommand('vorhut:tests', 'Lists the required tests of a job with the predicted results')]
final readonly class TestsCommand
{
    public function __construct(private CommandInput $input)
    {
    }

    public function __invoke(
        OutputInterface $output,
        #[MapInput]
        DocumentInput $document,
    ): int {
        $plan = $this->input->plan($document->file);
        $proof = Proof::of($plan);
        $cover = CallCover::of($plan, array_map(static fn (TestResult $one): ProofTest => $one->test, $proof->results));
        $this->input->answer(
            $output,
            $document->format,
            ['tests' => $proof->results, 'calls' => $cover],
            [...array_map(
                static fn (TestResult $result): string => \sprintf(
                    '%-11s %-52s %s%s',
                    $result->verdict->label(),
                    $result->test->title,
                    $result->test->expectedOutcome()->label(),
                    $result->test->isForeseenToFail() ? '  (foreseen to fail: '.$result->test->because().')' : '',
                ),
                $proof->results,
            ), (string) $cover->message()],
        );

        return CommandInput::DONE;
    }
}
