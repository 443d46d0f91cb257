<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Bench\MarkRefused;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Bench\StepReport;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\ChangeWriter;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;
use Vorhut\Secrets\Vault;

/** Marks a step of a run sheet, wherever the mark comes from: the bench, an offline sheet or the command line. */
final readonly class MarkStep
{
    public function __construct(private ChangeWriter $changes, private JournalClock $time, private Records $records, private Vault $vault)
    {
    }

    /**
     * @param Plan   $plan as the person saw it
     * @param string $at   UTC; '' for now
     *
     * @return Plan with the mark
     *
     * @throws MarkRefused where the run sheet does not take it
     * @throws Conflict    where another person marked the step in between
     * @throws Refused
     */
    public function mark(Job $job, Plan $plan, Device $device, Step $step, StepMark $mark, User|string $by, string $at = ''): Plan
    {
        $report = StepReport::of($plan, $device, $step, $mark);
        if (MarkState::Done === $mark->state && $step->does(Effect::Secures)) {
            // The password that was typed must be stored now, even if it was never shown.
            $this->vault->fill($job, $plan, $by);
            $plan = $this->records->plan($job);
            $report = StepReport::of($plan, $plan->devices[$device->key] ?? $device, $step, $mark);
        }
        $change = $report->change($by instanceof User ? $by->name : $by, '' === $at ? $this->time->now() : $at);
        $this->changes->write($job, $change, $by);

        return $plan->with($change);
    }

    /**
     * Marks all open steps as done, from the first one to this one. It ends at the first step that was marked as failed or
     * blocked, or that the run sheet refuses. The sheet shows the cautions of all steps before they are marked.
     *
     * @return StepNotMarked|null where it ended early; null if all steps are marked
     *
     * @throws Conflict
     * @throws Refused
     */
    public function markUpTo(Job $job, Plan $plan, Device $device, Step $last, User|string $by): ?StepNotMarked
    {
        $codes = array_map(static fn (Step $step): string => $step->code, $device->steps);
        $count = array_search($last->code, $codes, true);
        if (false === $count) {
            return new StepNotMarked($last, ['note' => new Message('This step is not on the run sheet.')]);
        }
        foreach (\array_slice($device->steps, 0, $count + 1) as $step) {
            $present = $plan->devices[$device->key] ?? $device;
            $state = RunSheet::of($plan, $present)->mark($step)?->state;
            if (\in_array($state, [MarkState::Failed, MarkState::Blocked], true)) {
                return new StepNotMarked($step, ['note' => new Message('This step is marked as {state}. Settle it first.', [
                    'state' => new Message($state->value),
                ])]);
            }
            if (null === $state) {
                try {
                    $plan = $this->mark($job, $plan, $present, $step, new StepMark(MarkState::Done), $by);
                } catch (MarkRefused $e) {
                    return new StepNotMarked($step, $e->errors);
                }
            }
        }

        return null;
    }
}
