<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** Whether the registrar accepts the account of a telephone. */
final readonly class RegisterProbe implements Probe, NeedsSecrets
{
    public function kind(): TestKind
    {
        return TestKind::Register;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $account = CallerAccount::of($context->plan, $test->caller);
        if (null === $account?->host || !$context->place->mayAsk($account->host)) {
            return Evidence::notAsked(new Message('the account or the registrar is missing'));
        }
        $caller = $account->caller($context);
        try {
            return $caller->register($account->host);
        } finally {
            $caller->close();
        }
    }

    public function secretOwners(Plan $plan, ProofTest $test): array
    {
        $account = CallerAccount::of($plan, $test->caller);

        return null === $account ? [] : [$account->account->key];
    }
}
