<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Vorhut\Application\MarkStep;
use Vorhut\Application\PrepareDevice;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Entity\Job;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Several steps of a run sheet marked in one press. */
final class MarkUpToTest extends JobPagesTestCase
{
    public function testAllOpenStepsUpToOneAreDone(): void
    {
        $job = $this->phone();
        $this->enter();
        $steps = $this->sheet($job)->device->steps;
        $third = $steps[2];
        $page = $this->browser->request('GET', "/j/$job->slug/bench?sel=devices/ph-01");
        $form = $page->filter("#step-$third->code form[action$='/bench/mark']")->selectButton('Done up to here')->form();
        $this->browser->submit($form);
        $sheet = $this->sheet($job);
        self::assertSame(3, $sheet->doneCount());
        self::assertSame($steps[3]->code, $sheet->next()?->code);
    }

    public function testItEndsWhereAStepIsRefusedAndSaysWhy(): void
    {
        $job = $this->phone('');
        $this->enter();
        $steps = $this->sheet($job)->device->steps;
        $last = $steps[\count($steps) - 1];
        $ended = self::service(MarkStep::class)->markUpTo($job, $this->plan($job), $this->sheet($job)->device, $last, 'Jo');
        self::assertNotNull($ended);
        self::assertSame($ended->step->code, $this->sheet($job)->next()?->code, 'the steps before it are marked');
        self::assertStringContainsString('address', (string) ($ended->errors['note'] ?? ''));
    }

    public function testAFailedStepIsNotSkippedOver(): void
    {
        $job = $this->phone();
        $device = $this->sheet($job)->device;
        [$first, $second] = $device->steps;
        $failed = new StepMark(MarkState::Failed, 'No lamp.');
        self::service(MarkStep::class)->mark($this->fresh($job), $this->plan($job), $device, $first, $failed, 'Jo');
        $ended = self::service(MarkStep::class)->markUpTo($job, $this->plan($job), $device, $second, 'Jo');
        self::assertSame($first->code, $ended?->step->code);
        self::assertSame(0, $this->sheet($job)->doneCount());
    }

    public function testAStepThatIsNotOnTheSheetMarksNothing(): void
    {
        $job = $this->phone();
        $device = $this->sheet($job)->device;
        $other = $this->plan($job)->catalogue->kind('ptz-camera')->steps ?? [];
        $stray = array_values(array_filter($other, static fn (Step $step): bool => null === $device->kind->step($step->code)))[0];
        $ended = self::service(MarkStep::class)->markUpTo($job, $this->plan($job), $device, $stray, 'Jo');
        self::assertSame($stray, $ended?->step);
        self::assertSame(0, $this->sheet($job)->doneCount());
    }

    private function phone(string $network = '10.20.3.23/24'): Job
    {
        return self::service(PrepareDevice::class)->prepare('IP phone', '', $network, 'Jo')[0];
    }

    private function sheet(Job $job): RunSheet
    {
        $plan = $this->plan($this->fresh($job));

        return RunSheet::of($plan, $plan->devices['ph-01']);
    }
}
