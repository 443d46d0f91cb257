<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Catalogue\Way;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** Holds a technician's mark against the run sheet: refuses it with a reason for each field, or turns it into a change of the job. */
final class StepReport
{
    /** Characters of a serial number. */
    private const SERIAL = 250;

    private readonly RunSheet $sheet;
    /** @var array<string, string> */
    private array $typed = [];
    /** @var array<string, string> */
    private array $read = [];
    /** @var array<string, Message> */
    private array $errors = [];

    private function __construct(
        private readonly Plan $plan,
        private readonly Device $device,
        private readonly Step $step,
        private readonly StepMark $mark,
    ) {
        $this->sheet = RunSheet::of($plan, $device);
        $this->typed = $this->values($mark->typed, $step->records);
        $this->read = $this->values($mark->read, $step->reads) + $this->label();
        $this->checkReason();
    }

    /**
     * @throws MarkRefused where a value, or the missing of a reason, does not let the mark stand
     */
    public static function of(Plan $plan, Device $device, Step $step, StepMark $mark): self
    {
        $report = new self($plan, $device, $step, $mark);

        return [] === $report->errors ? $report : throw new MarkRefused($report->errors);
    }

    /** @param string $at UTC, `2026-03-02T09:30:00Z` */
    public function change(string $by, string $at): Change
    {
        $ways = array_map(static fn (Way $way): string => $way->code, $this->step->ways);
        $way = MarkState::Done === $this->mark->state && \in_array($this->mark->way, $ways, true) ? $this->mark->way : '';

        return $this->sheet->changes()->mark($this->step, $this->mark->withValues($this->typed, $this->read, $way), $by, $at);
    }

    /**
     * @param array<string, string> $texts name on the sheet → as typed
     * @param list<string>          $names those that the step knows
     *
     * @return array<string, string> as they are stored
     */
    private function values(array $texts, array $names): array
    {
        $values = [];
        foreach ($this->sheet->slots($names) as $name => $slot) {
            $text = trim($texts[$name] ?? '');
            if ('' === $text) {
                continue;
            }
            try {
                $values[$name] = '-' === $text ? '' : $this->plan->settings()->read($slot->setting, $text);
            } catch (Malformed $e) {
                $this->errors[$name] = $e->message();
            }
        }

        return $values;
    }

    /** @return array<string, string> MAC and serial number as read off the label; they must be what the roster has */
    private function label(): array
    {
        $values = [];
        foreach (array_intersect($this->step->reads, ['mac', 'serial']) as $name) {
            $text = trim($this->mark->read[$name] ?? '');
            if ('' === $text) {
                continue;
            }
            try {
                $values[$name] = 'mac' === $name ? (string) Mac::fromString($text) : mb_substr($text, 0, self::SERIAL);
            } catch (Malformed $e) {
                $this->errors[$name] = $e->message();
                continue;
            }
            $known = 'mac' === $name ? (string) $this->device->nic()?->mac : $this->device->serial;
            if ('' !== $known && $known !== $values[$name]) {
                $this->errors[$name] = new Message(
                    'The roster has {known}. Check the label again; if the label is right, correct the roster first.',
                    ['known' => $known],
                );
            }
        }

        return $values;
    }

    private function checkReason(): void
    {
        $isDone = MarkState::Done === $this->mark->state;
        if ($isDone && $this->step->does(Effect::Addresses) && null === $this->device->nic()?->plannedAddress()) {
            $this->errors['note'] = new Message('This device has no planned address yet. Assign addresses first.');

            return;
        }
        if ('' !== $this->mark->note) {
            return;
        }
        if ($this->mark->state->needsReason()) {
            $this->errors['note'] = new Message('Write why.');

            return;
        }
        // The step may have been done early all the same; then the record says why.
        $obstacle = $isDone ? $this->sheet->obstacles($this->step)[0] ?? null : null;
        if (null !== $obstacle) {
            $this->errors['note'] = new Message('{obstacle} If the step was done anyway, write why.', ['obstacle' => $obstacle->message]);
        }
    }
}
