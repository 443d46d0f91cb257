<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** Which sources send a universe, and what a receiver would output (ANSI E1.31). */
final readonly class LightProbe implements Probe
{
    public function kind(): TestKind
    {
        return TestKind::Light;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $universe = Patch::of($context->plan)->universes[(int) $test->called] ?? null;

        return null === $universe
            ? Evidence::notAsked(new Message('this universe has no sender any more'))
            : (new LightListener($context->access))->hear($context->place, $universe);
    }
}
