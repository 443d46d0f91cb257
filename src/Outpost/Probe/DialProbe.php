<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Text\Message;

/** A call that the telephone itself makes, told to by its page. */
final readonly class DialProbe implements Probe, NeedsSecrets
{
    public function kind(): TestKind
    {
        return TestKind::Dial;
    }

    public function run(ProbeContext $context, ProofTest $test): Evidence
    {
        $plan = $context->plan;
        $extension = $plan->extensionNumbered((string) $test->caller);
        $refused = null === $extension ? null : CallGuard::refusal($plan, $extension, (string) $test->called, $context->access->isOnSite());
        if (null !== $refused) {
            return Evidence::notAsked($refused);
        }
        $caller = self::phone($context, $test->caller);
        $called = self::phone($context, $test->called);

        return null === $caller
            ? Evidence::notAsked(new Message('its address or password is not recorded, so it cannot be told to call'))
            : (new PhoneCaller($context->http, $context->access->isOnSite() ? PhoneCaller::RINGS : PhoneCaller::RINGS_IN_THE_LAB))->call(
                $context->place,
                $caller,
                null === $called || null === $called[0]->kind->admin?->call ? null : $called,
                (string) $test->caller,
                (string) $test->called,
            );
    }

    /** @return array{Device, Ipv4, string}|null the telephone of a number, its address and its password; null where one is unknown */
    private static function phone(ProbeContext $context, ?string $number): ?array
    {
        $device = $context->plan->devices[$context->plan->extensionNumbered((string) $number)->phone ?? ''] ?? null;
        $address = $context->target($device);
        $password = null === $device ? null : $context->secretOf($device->record());

        return null === $device || null === $address || null === $password ? null : [$device, $address, $password];
    }

    public function secretOwners(Plan $plan, ProofTest $test): array
    {
        return array_map(
            static fn (?string $number): string => 'devices/'.($plan->extensionNumbered((string) $number)->phone ?? ''),
            [$test->caller, $test->called],
        );
    }
}
