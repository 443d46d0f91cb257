<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Orders;

use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Answer;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Entity\Job;
use Vorhut\Journal\EvidenceLog;
use Vorhut\Journal\JournalClock;

/** Writes down what a person answers: evidence like any other, with name and time, on the facts as they stand now. */
final readonly class ManualAnswers
{
    public function __construct(private EvidenceLog $evidenceLog, private JournalClock $time)
    {
    }

    /**
     * @param string $by the name of who answers
     *
     * @throws Malformed if it is not an answer to this test
     */
    public function take(Job $job, Plan $plan, string $test, string $word, string $number, string $note, string $by): ProofTest
    {
        $asked = TestPlan::of($plan)->test($test);
        if (null === $asked?->question) {
            throw Malformed::because('The test "{test}" is not a manual question.', ['test' => $test]);
        }
        $answer = Answer::of($asked->question, $word, $number, $note);
        $this->evidenceLog->add($job, 'observations', [
            'key' => bin2hex(random_bytes(10)),
            'test' => $asked->key,
            'at' => $this->time->now(),
            'by' => $by,
            'from' => $asked->from,
            // While the lab runs for the job, tests use the lab.
            'onSite' => !$job->rehearsed,
            'outcome' => $answer->outcome->value,
            'detail' => $answer->detail->toStored(),
            'basis' => $asked->facts()->texts(),
        ]);

        return $asked;
    }
}
