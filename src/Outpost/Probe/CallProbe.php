<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\DirectCall;

/** A call with the account of a telephone, or directly to a codec; counted as answered only by whose address sends audio. */
final readonly class CallProbe implements Probe, NeedsSecrets
{
    public function kind(): TestKind
    {
        return TestKind::Call;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        return null === $test->caller ? self::direct($context, $test) : self::byAccount($context, $test);
    }

    private static function byAccount(ProbeContext $context, ProofTest $test): Evidence
    {
        $plan = $context->plan;
        $account = CallerAccount::of($plan, $test->caller);
        $number = (string) $test->called;
        if (null === $account?->host || !$context->place->mayAsk($account->host)) {
            return Evidence::notAsked(new Message('the account or the PBX is missing'));
        }
        $refusal = CallGuard::refusal($plan, $account->extension, $number, $context->access->isOnSite());
        if (null !== $refusal) {
            return Evidence::notAsked($refusal);
        }
        $caller = $account->caller($context);
        try {
            return $caller->call(
                $account->host,
                $number,
                self::devicesOf($plan, $test),
                $account->host,
                $plan->job->int('voicemailAfter', 4) + 6.0,
            );
        } finally {
            $caller->close();
        }
    }

    /** @return list<Ipv4> addresses of the devices that may answer: a number may ring on several */
    private static function devicesOf(Plan $plan, ProofTest $test): array
    {
        $number = null === $test->called ? null : $plan->extensionNumbered($test->called);
        $devices = null === $number ? [$test->to] : [$test->to, ...$plan->ringing($number)];

        return array_values(array_filter(array_map(
            static fn (string $device): ?Ipv4 => ProbeContext::addressOf($plan->devices[$device] ?? null),
            array_unique($devices),
        )));
    }

    /** Dialled as a caller from there dials it: behind NAT at its outside address. */
    private static function direct(ProbeContext $context, ProofTest $test): Evidence
    {
        $codec = $context->plan->devices[$test->to] ?? throw NoAnswer::notAsked(new Message('the device is gone'));
        $dialled = DirectCall::of(NetworkModel::of($context->plan, Face::Set), $test->from, $codec)->dialled;
        $address = $dialled ?? ProbeContext::addressOf($codec);
        if (null === $address || !$context->place->mayAsk($address)) {
            return Evidence::notAsked(new Message('it has no address in a network of this job'));
        }
        $caller = new SipCaller($context->access, $context->place, 'outpost', '');
        try {
            // Behind NAT it may name its own address, or the one that it was told to announce.
            $named = [$address, ProbeContext::addressOf($codec), Ipv4::tryFromString(
                null === $codec->kind->setting('announcedAddress') ? '' : $codec->setting('announcedAddress')->effective(Face::Set) ?? '',
            )];

            return $caller->call($address, 'room', array_values(array_filter($named)), null, 6.0);
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
