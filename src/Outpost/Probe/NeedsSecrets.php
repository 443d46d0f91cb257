<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;

/** A probe that needs secrets of the job; an outpost on another machine gets these and no others. */
interface NeedsSecrets
{
    /** @return list<string> whose: `devices/KEY`, `devices/KEY#PURPOSE`, or the key of an account */
    public function secretOwners(Plan $plan, ProofTest $test): array;
}
