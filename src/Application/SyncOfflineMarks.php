<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Bench\MarkRefused;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Bench\StepMark;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\Job;
use Vorhut\Entity\User;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\JournalClock;
use Vorhut\Journal\Records;
use Vorhut\Journal\Refused;

/**
 * Takes the marks of an offline run sheet in the order in which they were made. They pass the same checks as marks made online, and each
 * is answered for itself: a mark that contradicts another person's is refused with that person's name, and stays on the sheet.
 */
final readonly class SyncOfflineMarks
{
    /** Seconds that the clock of a phone may run ahead. */
    private const AHEAD = 120;
    /** Days that a mark may have been on the way. */
    private const DAYS = 14;

    public function __construct(private MarkStep $markStep, private Records $records, private JournalClock $time)
    {
    }

    /**
     * @param list<OfflineMark> $marks
     *
     * @return list<OfflineAnswer> one for each mark
     */
    public function sync(Job $job, array $marks, User $by): array
    {
        $plan = $this->records->plan($job);
        $answers = [];
        foreach ($marks as $mark) {
            $answers[] = $this->take($job, $plan, $mark, $by);
        }

        return $answers;
    }

    /** @param Plan $plan as it stands; afterwards with the mark, if it was taken */
    private function take(Job $job, Plan &$plan, OfflineMark $offline, User $by): OfflineAnswer
    {
        $device = $plan->devices[$offline->device] ?? null;
        $step = $device?->kind->step($offline->step);
        if (null === $device || null === $step || null === $offline->mark) {
            return OfflineAnswer::refused($offline, new Message('This step no longer exists.'));
        }
        $at = $this->time($offline->at);
        $there = RunSheet::of($plan, $device)->mark($step);
        if (null !== $there && self::isSame($there, $offline->mark, $by, $at)) {
            return OfflineAnswer::stored($offline);
        }
        if (null !== $there && !$offline->isFinal) {
            return OfflineAnswer::contradicted($offline, self::contradiction($there));
        }
        try {
            $plan = $this->markStep->mark($job, $plan, $device, $step, $offline->mark, $by, $at);
        } catch (MarkRefused $e) {
            return OfflineAnswer::refused($offline, $e->message());
        } catch (Conflict|Refused $e) {
            $plan = $this->records->plan($job);

            return OfflineAnswer::refused($offline, $e->message());
        }

        return OfflineAnswer::stored($offline);
    }

    /** Whether it was sent before, by a request whose answer did not arrive. */
    private static function isSame(Mark $there, StepMark $mark, User $by, string $at): bool
    {
        return $there->by === $by->name && $there->state === $mark->state && $there->at === $at;
    }

    private static function contradiction(Mark $there): Message
    {
        return new Message('{name} marked it {state} at {at}.', [
            'name' => $there->by,
            'state' => new Message($there->state->value),
            'at' => $there->at,
        ]);
    }

    /** The time at which the mark was made, where the browser's clock can be right; otherwise now. */
    private function time(string $text): string
    {
        $now = (int) strtotime($this->time->now());
        $at = 1 === preg_match('/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?Z$/D', $text) ? (int) strtotime($text) : 0;

        return $at > $now + self::AHEAD || $at < $now - self::DAYS * 86400 ? $this->time->now() : gmdate('Y-m-d\TH:i:s\Z', $at);
    }
}
