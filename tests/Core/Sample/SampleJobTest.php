<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Sample;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Analysis\Findings;
use Vorhut\Core\Analysis\Questions;
use Vorhut\Core\Analysis\ShippedRules;
use Vorhut\Core\Analysis\TestPlan;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Document\JobDocument;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Sample\PlantedFaults;
use Vorhut\Core\Sample\SampleJob;
use Vorhut\Tests\Support\Jobs;

/** A made-up job is one that a good team could have planned: nothing is wrong with it but what was planted. */
final class SampleJobTest extends TestCase
{
    /** @return \Closure(int): int */
    private static function chance(int $seed): \Closure
    {
        $chance = new Randomizer(new Xoshiro256StarStar($seed));

        return static fn (int $below): int => $chance->getInt(0, $below - 1);
    }

    private static function job(int $seed, int $devices = 120, int $segments = 8): Plan
    {
        return SampleJob::of(Jobs::catalogue(), $devices, $segments, self::chance($seed));
    }

    public function testTheSameChanceGivesTheSameBytesAndTheyAreADocument(): void
    {
        $json = JobDocument::of(self::job(3))->toJson();
        self::assertSame($json, JobDocument::of(self::job(3))->toJson());
        self::assertNotSame($json, JobDocument::of(self::job(4))->toJson());
        self::assertSame($json, JobDocument::fromJson($json, Jobs::catalogue())->toJson());
    }

    #[TestWith([1, 3, 3])]
    #[TestWith([2, 120, 8])]
    #[TestWith([3, 300, 40])]
    #[TestWith([4, 700, 80])]
    public function testNothingIsWrongWithIt(int $seed, int $devices, int $segments): void
    {
        $plan = self::job($seed, $devices, $segments);
        self::assertSame([], array_map(
            static fn (Finding $one): string => $one->key().' '.$one->what,
            Findings::of($plan, ShippedRules::all())->all,
        ));
        self::assertSame([], Questions::of($plan)->open);
        self::assertTrue(Allocation::of($plan)->change()->isEmpty());
        self::assertCount($devices, $plan->devices);
        self::assertCount($segments + 2, $plan->segments, 'and a backbone, and the way out');
        self::assertNotSame([], $plan->translations);
        if ($devices > 100) {
            self::assertNotSame([], $plan->rows('terminals'), 'some ring for the number of another');
            self::assertNotSame([], array_filter(
                $plan->extensions,
                static fn (Extension $one): bool => true === ($plan->devices[$one->pbx ?? ''] ?? null)?->kind->isHosted(),
            ), 'and some live at a provider');
        }
        foreach (TestPlan::of($plan)->tests as $test) {
            self::assertFalse($test->isForeseenToFail(), $test->key);
        }
    }

    public function testAPartOfItIsStaged(): void
    {
        $plan = self::job(5);
        $done = array_filter(
            $plan->devices,
            static fn (Device $one): bool => [] !== $one->kind->steps && RunSheet::of($plan, $one)->isDone(),
        );
        self::assertGreaterThan(40, \count($done));
        self::assertLessThan(80, \count($done));
        self::assertNotSame([], Queue::of($plan)->stops);
    }

    #[TestWith([11])]
    #[TestWith([12])]
    public function testWhatIsPlantedIsFound(int $seed): void
    {
        $planted = PlantedFaults::into(self::job($seed), 12, self::chance($seed));
        self::assertCount(12, $planted->truth);
        self::assertCount(6, array_unique(array_column($planted->truth, 'fault')), 'each kind of mistake');
        self::assertCount(12, array_unique(array_column($planted->truth, 'record')), 'each at a device of its own');
        $found = Findings::of($planted->plan, ShippedRules::all())->all;
        foreach ($planted->truth as $one) {
            self::assertNotSame([], array_filter(
                $found,
                static fn (Finding $finding): bool => $finding->code === $one['finding']
                    && \in_array($one['record'], $finding->records, true),
            ), json_encode($one) ?: '');
        }
    }

    #[TestWith([2, 3])]
    #[TestWith([10, 2])]
    #[TestWith([10, 11])]
    #[TestWith([100_001, 5])]
    public function testFiguresThatMakeNoJobAreRefused(int $devices, int $segments): void
    {
        $this->expectException(Malformed::class);
        self::job(1, $devices, $segments);
    }
}
