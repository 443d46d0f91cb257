<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\Prediction;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Proof\TestSource;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Registration;

/** Whether the registrar accepts the account of each telephone. */
final readonly class RegisterTests implements TestSource
{
    public static function kinds(): array
    {
        return [TestKind::Register];
    }

    public static function of(PredictionCache $predictions, Plan $plan): array
    {
        $tests = [];
        foreach ($plan->extensions as $extension) {
            // Only the provider knows the secret of its accounts: a person looks at a hosted phone.
            if ('sip' === $extension->terminal && null !== $extension->phone && !$plan->isHosted($extension)) {
                $tests[] = self::register($predictions, $plan, $extension);
            }
        }

        return $tests;
    }

    private static function register(PredictionCache $predictions, Plan $plan, Extension $extension): ProofTest
    {
        $segment = $plan->segmentOfPhone($extension);
        $at = ['number' => $extension->number, 'segment' => $plan->segmentName($segment)];

        return new ProofTest(
            'register:'.$extension->number,
            TestKind::Register,
            OutpostKey::on($segment),
            (string) $extension->pbx,
            new Message('The account of {number} is accepted, asked from {segment}', $at),
            Outcome::Registered,
            new Message(
                'Account and secret of {number}, without touching its phone. It does not prove that the phone itself registers.',
                $at,
            ),
            $predictions,
            static function () use ($predictions, $extension, $segment): Prediction {
                // The outpost asks with the account but from its own place: what it proves is the entry, the secret and the way.
                $registration = Registration::fromOutpost($predictions->model(), $extension, OutpostKey::on($segment));

                return new Prediction(
                    match (true) {
                        $registration->holds => Outcome::Registered,
                        true === $registration->walk?->holds() => Outcome::Rejected,
                        default => Outcome::Silent,
                    },
                    $registration->why,
                    $registration->facts,
                    $registration->walk,
                );
            },
            null,
            $extension->number,
        );
    }
}
