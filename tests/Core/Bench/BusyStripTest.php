<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Bench\BusyStrip;
use Vorhut\Core\Bench\NextForMe;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Tests\Support\Jobs;

/** Waits that run by the clock, what has to be put back, and what comes next for whom. */
final class BusyStripTest extends TestCase
{
    private const AT = '2026-03-01T09:00:00Z';

    private static function jobs(): Jobs
    {
        return (new Jobs())->segment('s', '10.64.40.0/24', '10.64.40.1')
            ->device('c', 'ptz-camera', 's', ['address' => '10.64.40.31'])
            ->device('d', 'ptz-camera', 's', ['address' => '10.64.40.32'])
            ->device('e', 'streaming-encoder', 's', ['address' => '10.64.40.51']);
    }

    private static function now(int $after = 0): int
    {
        return (int) strtotime(self::AT) + $after;
    }

    private static function waiting(Plan $plan, string $device, string $step, string $at): Plan
    {
        $sheet = RunSheet::of($plan, $plan->devices[$device]);

        return $plan->with($sheet->changes()->beginWait($sheet->device->kind->step($step) ?? throw new \LogicException(), 'Jo', $at));
    }

    public function testAWaitRunsUntilItIsEndedOrItsStepIsMarkedAndIsBegunAnewInOnePlace(): void
    {
        $plan = self::waiting(self::jobs()->plan(), 'c', 'hook-up', self::AT);
        $plan = self::waiting($plan, 'e', 'hook-up', self::AT);
        $strip = BusyStrip::of($plan)->waits;
        self::assertSame(['E', 'C'], array_map(static fn (array $one): string => $one['device']->tag, $strip), 'what ends first');
        self::assertSame([20, -10], [$strip[1]['wait']->secondsLeft(self::now(30)), $strip[1]['wait']->secondsLeft(self::now(60))]);
        $anew = self::waiting($plan, 'c', 'hook-up', '2026-03-01T09:10:00Z');
        self::assertCount(2, BusyStrip::of($anew)->waits);
        self::assertSame(650, BusyStrip::of($anew)->waits[1]['wait']->secondsLeft(self::now()));
        $sheet = RunSheet::of($anew, $anew->devices['c']);
        $step = $sheet->device->kind->step('hook-up') ?? throw new \LogicException();
        self::assertSame(self::now(650), $sheet->waitsUntil());
        self::assertCount(1, BusyStrip::of($anew->with($sheet->changes()->stopWait($step)))->waits);
        $marked = $anew->with($sheet->changes()->mark($step, StepMark::done(), 'Jo', self::AT));
        self::assertCount(1, BusyStrip::of($marked)->waits, 'a step that is done waits for nothing');
    }

    public function testWhatWasChangedForTheBenchStaysOnTheStripUntilItIsPutBack(): void
    {
        $by = static fn (string $way): Jobs => self::jobs()->done('e', 'unpack', 'hook-up')->row('marks', [
            'key' => 'e.reach', 'device' => 'e', 'step' => 'reach', 'state' => 'done', 'by' => 'Jo', 'way' => $way,
        ]);
        $codes = static fn (Jobs $jobs): array => array_map(
            static fn (array $one): string => $one['step']->code,
            BusyStrip::of($jobs->plan())->putBack,
        );
        self::assertSame(['put-back'], $codes($by('router')));
        self::assertSame([], $codes($by('router')->done('e', 'put-back')));
        self::assertSame([], $codes($by('laptop')), 'the laptop went there: nothing was changed');
        self::assertSame([], $codes(self::jobs()->done('e', 'reach')), 'the first way is the one that is proposed');
        $over = static fn (Jobs $jobs): bool => isset(RunSheet::of($jobs->plan(), $jobs->plan()->devices['e'])->over()['put-back']);
        self::assertSame([false, true, false], [$over($by('router')), $over($by('laptop')), $over(self::jobs())]);
        self::assertSame([], BusyStrip::of(self::jobs()->plan())->putBack);
    }

    public function testAnUnlockForATimeIsCountedDown(): void
    {
        $row = ['device' => 'c', 'feature' => 'installer', 'validUntil' => '2026-04-01', 'temporary' => true];
        $plan = self::jobs()->row('licences', ['key' => 'l'] + $row)
            ->row('licences', ['key' => 'm', 'validUntil' => '2026-03-20'] + $row)
            ->row('licences', ['key' => 'n', 'temporary' => false] + $row)->plan();
        self::assertSame(['2026-03-20', '2026-04-01'], array_column(BusyStrip::of($plan)->unlocks, 'until'));
    }

    public function testWhatComesNextIsWhatNobodyElseHasInHand(): void
    {
        $next = static fn (Plan $plan, string $me, int $after = 0): ?string => null === ($one = NextForMe::of(
            $plan,
            Queue::of($plan)->stopOf('c') ?? throw new \LogicException(),
            $me,
            self::now($after),
        )) ? null : $one->device->tag.' '.$one->step->code.' '.$one->in;
        $plan = self::jobs()->row('marks', [
            'key' => 'c.unpack', 'device' => 'c', 'step' => 'unpack', 'state' => 'done', 'by' => 'Jo', 'at' => self::AT,
        ])->plan();
        self::assertSame('C dial 0', $next($plan, 'Jo'), 'it has the lane and is begun');
        self::assertNotSame('C', $next($plan, 'Mara', 60)[0] ?? '', 'Jo has it in hand');
        self::assertSame('C dial 0', $next($plan, 'Mara', 600), 'Jo has gone to lunch');
        $alone = (new Jobs())->segment('s', '10.64.40.0/24')->device('c', 'ptz-camera', 's')->done('c', 'unpack', 'dial')->plan();
        self::assertSame('C hook-up 50', $next(self::waiting($alone, 'c', 'hook-up', self::AT), 'Jo'));
        $done = $alone;
        foreach ($alone->devices['c']->kind->steps as $step) {
            $done = $done->with(RunSheet::of($done, $done->devices['c'])->changes()->mark($step, StepMark::done(), 'Jo', self::AT));
        }
        self::assertNull($next($done, 'Jo'));
    }

    public function testTheWayByWhichAStepWasDoneIsKept(): void
    {
        $plan = self::jobs()->plan();
        $sheet = RunSheet::of($plan, $plan->devices['e']);
        $step = $sheet->device->kind->step('reach') ?? throw new \LogicException();
        $after = $plan->with($sheet->changes()->mark($step, new StepMark(MarkState::Done, way: 'router'), 'Jo', self::AT));
        self::assertSame('router', RunSheet::of($after, $after->devices['e'])->mark($step)?->way);
    }
}
