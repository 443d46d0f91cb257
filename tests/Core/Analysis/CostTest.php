<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Analysis;

use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Analysis\Analysis;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Tests\Support\Jobs;

/**
 * What the parts of an analysis cost, in operations and never in seconds: walks that are gone, predictions that are made. A job of twice
 * the size may cost twice as much, and a little over.
 */
final class CostTest extends TestCase
{
    private const SIZES = [100, 200, 400];
    private const GROWTH = 2.3;

    private static function plan(int $devices): Plan
    {
        $chance = new Randomizer(new Xoshiro256StarStar(7));

        return SampleJob::of(
            Jobs::catalogue(),
            $devices,
            intdiv($devices, 20),
            static fn (int $below): int => $chance->getInt(0, $below - 1),
        );
    }

    public function testFindingsGoFewWalksAndPredictNothingThatNobodyObserved(): void
    {
        $walks = [];
        foreach (self::SIZES as $devices) {
            $analysis = new Analysis(self::plan($devices));
            $analysis->findings();
            $analysis->progress();
            $walks[$devices] = $analysis->networkModel(Face::Set)->walked;
            // Ways that are needed grow with the pairs of segments, and from each to where files lie: of those alike one is walked.
            // A phone of a provider is walked by itself, out of the site.
            self::assertLessThanOrEqual(intdiv(3 * $devices, 4), $walks[$devices], "$devices devices");
        }
        self::assertGreaterThan(0, $walks[self::SIZES[0]]);
        $analysis = new Analysis(self::plan(100));
        self::assertNotSame([], $analysis->proof()->results);
        $analysis->figures();
        self::assertSame(0, $analysis->proof()->results[0]->test->predictions->computed);
    }

    public function testAllPredictionsOfATestPlanTakeAFewWalksEach(): void
    {
        $walks = [];
        foreach (self::SIZES as $devices) {
            $tests = TestPlan::of(self::plan($devices));
            foreach ($tests->tests as $test) {
                self::assertSame($test->expectedOutcome(), $test->prediction()->expected);
                $test->because();
            }
            self::assertSame(\count($tests->tests), $tests->predictions->computed, 'each once, however often it is asked');
            $walks[$devices] = $tests->predictions->model()->walked;
            self::assertLessThanOrEqual(4 * \count($tests->tests), $walks[$devices]);
        }
        self::assertGrows($walks);
    }

    /** @param array<int, int> $costs */
    private static function assertGrows(array $costs): void
    {
        $costs = array_values($costs);
        for ($i = 1; $i < \count($costs); ++$i) {
            self::assertGreaterThan(0, $costs[$i - 1]);
            self::assertLessThanOrEqual(self::GROWTH, $costs[$i] / $costs[$i - 1], implode(', ', $costs));
        }
    }
}
