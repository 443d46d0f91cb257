<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

use Vorhut\Core\Plan\Plan;

/** Plans the tests that a context of the trade requires of a job. */
interface TestSource
{
    /** @return non-empty-list<TestKind> the kinds of its tests */
    public static function kinds(): array;

    /** @return list<ProofTest> in display order; each predicts on demand */
    public static function of(PredictionCache $predictions, Plan $plan): array;
}
