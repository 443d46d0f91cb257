<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Test;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\HandTest;
use Vorhut\Core\Media\PlannedStreams;
use Vorhut\Core\Media\StreamRate;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;

/** Questions that only a person can answer at a device, as its kind declares them. */
final readonly class QuestionTests implements TestSource
{
    /** A measured rate is as planned within so much more or less. */
    private const RATE_TOLERANCE = 0.1;

    public static function kinds(): array
    {
        return [TestKind::Ask];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->devices as $device) {
            foreach ($device->kind->handTests as $question) {
                if ([] === RunSheet::of($plan, $device)->unmet($question->needs)) {
                    $tests[] = self::question($predictions, $plan, $device, $question);
                }
            }
        }

        return $tests;
    }

    /** Questions that only a person can answer; an answer is valid while its facts do not change. */
    private static function question(PredictionCache $predictions, Plan $plan, Device $device, HandTest $question): ProofTest
    {
        $rate = $question->isSentRate ? self::sentRate($plan, $device) : null;
        $question = null === $rate ? $question : $question->around($rate, self::RATE_TOLERANCE);

        return new ProofTest(
            "hand:{$device->key}:{$question->code}",
            TestKind::Ask,
            ProofTest::BY_HAND,
            $device->key,
            new Message('{tag}: {question}', ['tag' => $device->tag, 'question' => new Message($question->ask)]),
            Outcome::Affirmed,
            new Message($question->covers),
            $predictions,
            static fn (): Prediction => new Prediction(
                Outcome::Affirmed,
                new Message('Only a person can tell.'),
                self::factsOf($plan, $device, $question),
            ),
            question: $question,
        );
    }

    /** kbit/s that a device is planned to send; null where that is not known. */
    private static function sentRate(Plan $plan, Device $device): ?float
    {
        $sum = null;
        foreach (PlannedStreams::of($plan) as $stream) {
            $rate = $stream->sender === $device->key ? StreamRate::of($plan, $stream)->kbit : null;
            if (null !== $rate) {
                $sum = ($sum ?? 0.0) + $rate;
            }
        }

        return $sum;
    }

    /** The facts on which the answer to a question depends. */
    private static function factsOf(Plan $plan, Device $device, HandTest $question): Facts
    {
        $facts = new Facts();
        foreach ($question->facts as $name) {
            if (str_starts_with($name, 'job:')) {
                $facts->note($name, self::jobFact($plan, substr($name, 4)));
                continue;
            }
            $slot = $plan->settings()->slot($device, $name);
            if (null !== $slot) {
                $facts->note((string) $slot->ref, $slot->value->effective(Face::Set));
            }
        }
        foreach ($plan->extensionsOf($device->key) as $extension) {
            $facts->note('extensions/'.$extension->key.':number', $extension->number);
        }

        return $facts;
    }

    /** A field of the job as it counts: emergency numbers may come from the country. */
    private static function jobFact(Plan $plan, string $field): string
    {
        $stored = 'emergencyNumbers' === $field ? $plan->emergencyNumbers()->numbers : $plan->job->value($field);

        return match (true) {
            \is_array($stored) => implode(', ', array_filter($stored, is_scalar(...))),
            \is_scalar($stored) => (string) $stored,
            default => '',
        };
    }
}
