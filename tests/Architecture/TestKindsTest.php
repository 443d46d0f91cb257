<?php

declare(strict_types=1);

namespace Vorhut\Tests\Architecture;

use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Analysis\ShippedTests;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\TestKind;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Outpost\Probe\Probe;
use Vorhut\Outpost\Probe\ShippedProbes;
use Vorhut\Tests\Support\Jobs;

/** Every kind of test is planned, predicted, and made by a probe or answered by a person. */
final class TestKindsTest extends TestCase
{
    public function testEveryKindHasASourceAndEitherAProbeOrAPerson(): void
    {
        $planned = array_merge([], ...array_map(static fn (string $source): array => $source::kinds(), ShippedTests::SOURCES));
        $probed = array_map(static fn (Probe $probe): TestKind => $probe->kind(), ShippedProbes::all());
        foreach (TestKind::cases() as $kind) {
            self::assertContains($kind, $planned, $kind->value.' is planned by no source');
            self::assertSame(TestKind::Ask !== $kind, \in_array($kind, $probed, true), $kind->value);
            self::assertGreaterThan(0, $kind->atOnce());
        }
        self::assertCount(\count($probed), array_unique(array_column($probed, 'value')), 'one probe for a kind');
    }

    public function testEverySourceKeepsToItsKindsAndEveryTestCanBePredicted(): void
    {
        $plan = self::sample();
        $predictions = TestPlan::of($plan)->predictions;
        foreach (ShippedTests::SOURCES as $source) {
            foreach ($source::of($predictions, $plan) as $test) {
                self::assertContains($test->kind, $source::kinds(), $test->key);
                self::assertSame(TestKind::Ask === $test->kind, $test->isByHand(), $test->key);
                self::assertNotSame([], $test->facts()->texts(), $test->key.' is predicted from nothing');
            }
        }
    }

    public function testAnOutpostGetsOnlySecretsThatThePlanKnows(): void
    {
        $plan = self::sample();
        foreach (TestPlan::of($plan)->tests as $test) {
            foreach (ShippedProbes::secretOwners($plan, $test) as $owner) {
                $key = explode('#', str_replace('devices/', '', $owner))[0];
                self::assertTrue(isset($plan->accounts[$key]) || isset($plan->devices[$key]), $test->key.' wants '.$owner);
            }
        }
    }

    private static function sample(): Plan
    {
        $chance = new Randomizer(new Mt19937(7));

        return SampleJob::of(Jobs::catalogue(), 120, 6, static fn (int $below): int => $chance->getInt(0, $below - 1));
    }
}
