<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\PredictionCache;
use Vorhut\Core\Proof\ProofTest;

/**
 * The tests that a job requires: as few as cover it, each saying what it covers. A prediction is computed from the value *set*, else from
 * the planned one; "not found by multicast, found by range" is a prediction that can be met.
 */
final readonly class TestPlan
{
    /** @param list<ProofTest> $tests */
    private function __construct(public array $tests, public PredictionCache $predictions)
    {
    }

    /** @param (\Closure(): NetworkModel)|null $model of the values set, if the caller has it already */
    public static function of(Plan $plan, ?\Closure $model = null): self
    {
        $predictions = new PredictionCache($model ?? static fn (): NetworkModel => NetworkModel::of($plan, Face::Set));
        $tests = [];
        foreach (ShippedTests::SOURCES as $source) {
            foreach ($source::of($predictions, $plan) as $test) {
                $tests[$test->key] ??= $test;
            }
        }

        return new self(array_values($tests), $predictions);
    }

    public function test(string $key): ?ProofTest
    {
        foreach ($this->tests as $test) {
            if ($test->key === $key) {
                return $test;
            }
        }

        return null;
    }
}
