<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestKind;

/** Every probe, by the kind of test that it makes. */
final class ShippedProbes
{
    /** @return list<Probe> */
    public static function all(): array
    {
        return [
            new ReachProbe(), new DiscoverProbe(), new StreamProbe(), new PushProbe(), new HeardProbe(), new ClockProbe(),
            new LightProbe(), new RadiusProbe(), new RegisterProbe(), new CallProbe(), new DialProbe(),
        ];
    }

    /** @return Probe|null null for a kind that only a person answers */
    public static function of(TestKind $kind): ?Probe
    {
        foreach (self::all() as $probe) {
            if ($probe->kind() === $kind) {
                return $probe;
            }
        }

        return null;
    }

    /** @return list<string> whose secrets the probe of a test needs, as NeedsSecrets names them */
    public static function secretOwners(Plan $plan, ProofTest $test): array
    {
        $probe = self::of($test->kind);

        return $probe instanceof NeedsSecrets ? $probe->secretOwners($plan, $test) : [];
    }
}
