<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;

/** Makes the tests of one kind from a place on the network. It does not know the prediction. */
interface Probe
{
    public function kind(): TestKind;

    /**
     * @return Evidence without its place, which TestRunner adds
     *
     * @throws NoAnswer where the test cannot be made from there
     */
    public function run(ProbeContext $context, ProofTest $test): Evidence;
}
