<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;

/** Which clock leads on a segment (IEEE 1588). */
final readonly class ClockProbe implements Probe
{
    public function kind(): TestKind
    {
        return TestKind::Clock;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        return (new ClockListener($context->access))->hear($context->place, $context->plan, $test);
    }
}
