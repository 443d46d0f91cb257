<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;

/** The changes that work at a device makes to the job: a step is marked, a wait begins, values are read back or looked at. */
final readonly class SheetChanges
{
    public function __construct(private Plan $plan, private RunSheet $sheet)
    {
    }

    /**
     * The changes that marking a step makes: the mark itself, and for a step that is done the settings that are now *set* in the device,
     * the values read from it, and that its first password is replaced. A value read back earlier is discarded when the setting is set
     * again.
     *
     * @param StepMark $mark with values as they are stored; StepReport checks those that a person typed
     * @param string   $at   UTC, `2026-03-02T09:30:00Z`
     */
    public function mark(
        Step $step,
        StepMark $mark,
        string $by,
        string $at,
    ): Change {
        $key = $this->sheet->device->key.'.'.$step->code;
        $edits = [];
        $before = $this->plan->row('marks', $key);
        if (null !== $before) {
            $edits[] = Edit::remove('marks', $before);
        }
        if (MarkState::Open !== $mark->state) {
            $edits[] = Edit::add('marks', [
                'key' => $key,
                'device' => $this->sheet->device->key,
                'step' => $step->code,
                'state' => $mark->state->value,
                'note' => '' === $mark->note ? null : $mark->note,
                'by' => $by,
                'at' => $at,
            ] + ('' === $mark->way ? [] : ['way' => $mark->way]));
            $edits = [...$edits, ...$this->waitEnds($step)];
        }
        $isDone = MarkState::Done === $mark->state;
        if ($isDone) {
            $shown = $this->shownBy($step, $mark->way);
            foreach ($this->sheet->slots($step->records) as $name => $slot) {
                // What the sheet did not show was not put in.
                $put = $mark->typed[$name] ?? (\in_array($name, $shown, true) ? $slot->value->planned : null);
                $edits = [...$edits, ...(null === $put ? [] : SettingChange::toBeSet($slot->ref, $slot->value, $put))];
            }
            $edits = [...$edits, ...$this->readings($mark->read)];
        }
        if ($step->does(Effect::Secures)) {
            $edits = [...$edits, ...$this->passwordEdits($step, $isDone, $at)];
        }

        $why = new Message('{tag}, {state}: {step}', [
            'tag' => $this->sheet->device->tag,
            'state' => new Message($mark->state->value),
            'step' => new Message($step->do),
        ]);

        return new Change($why, $edits);
    }

    /**
     * Marks as done the open steps whose values the device was seen to have, every one of them.
     *
     * @param string $by who read it back
     */
    public function readBack(string $by, string $at): Change
    {
        $edits = $done = [];
        foreach ($this->sheet->device->steps as $step) {
            // No page tells a password, so none is taken for changed.
            $isOpen = null === $this->sheet->mark($step) && !$step->does(Effect::Secures) && [] === $this->sheet->obstacles($step);
            if (!$isOpen || !$this->isReadBack($step)) {
                continue;
            }
            foreach ($this->mark($step, StepMark::done(), $by, $at)->edits as $edit) {
                // Two steps may record the same setting.
                $edits[$edit->record().' '.$edit->field] = $edit;
            }
            $done[] = new Message($step->do);
        }

        return new Change(
            new Message('{tag}, read back: {steps}', ['tag' => $this->sheet->device->tag, 'steps' => Message::join($done)]),
            array_values($edits),
        );
    }

    private function isReadBack(Step $step): bool
    {
        $seen = 0;
        foreach ($this->sheet->slots($step->records) as $name => $slot) {
            $value = $slot->value;
            if (null === $value->planned || $this->sheet->isOfUnusedPort($name)) {
                continue;
            }
            if ($value->seen !== $value->planned) {
                return false;
            }
            ++$seen;
        }

        return $seen > 0;
    }

    /**
     * A person looked, and these are as they were set.
     *
     * @param list<string> $locals
     */
    public function confirmValues(array $locals): Change
    {
        $edits = [];
        foreach (array_intersect_key($this->sheet->toLookAt(), array_flip($locals)) as $slot) {
            $edits[] = Edit::setting($slot->ref, Face::Seen, $slot->value->seen, $slot->value->set);
            if (null !== $slot->value->odd) {
                $edits[] = Edit::put('settings', (string) $slot->ref, 'odd', $slot->value->odd, null);
            }
        }

        return new Change(new Message('{tag}: looked at, as set.', ['tag' => $this->sheet->device->tag]), $edits);
    }

    /** The wait of a step begins, or begins anew. */
    public function beginWait(Step $step, string $by, string $at): Change
    {
        return new Change(
            new Message('{tag}: a wait of {n} s began.', ['tag' => $this->sheet->device->tag, 'n' => $step->wait]),
            [...$this->waitEnds($step), Edit::add('waits', [
                'key' => $this->sheet->device->key.'.'.$step->code,
                'device' => $this->sheet->device->key,
                'step' => $step->code,
                'at' => $at,
                'seconds' => max(1, $step->wait),
                'by' => $by,
            ])],
        );
    }

    public function stopWait(Step $step): Change
    {
        return new Change(new Message('{tag}: the wait was ended.', ['tag' => $this->sheet->device->tag]), $this->waitEnds($step));
    }

    /** @return list<Edit> */
    private function waitEnds(Step $step): array
    {
        $row = $this->plan->row('waits', $this->sheet->device->key.'.'.$step->code);

        return null === $row ? [] : [Edit::remove('waits', $row)];
    }

    /**
     * @param array<string, string> $read
     *
     * @return list<Edit>
     */
    private function readings(array $read): array
    {
        $edits = [];
        $nic = $this->sheet->device->nic();
        foreach ($read as $name => $text) {
            $slot = $this->plan->settings()->slot($this->sheet->device, $name);
            if (null !== $slot) {
                $edits = [
                    ...$edits,
                    ...($slot->value->seen === $text ? [] : [Edit::setting($slot->ref, Face::Seen, $slot->value->seen, $text)]),
                ];
            } elseif ('mac' === $name && null !== $nic && null === $nic->mac) {
                $edits[] = Edit::put('nics', $nic->key, 'mac', null, $text);
            } elseif ('serial' === $name && '' === $this->sheet->device->serial) {
                $edits[] = Edit::put(
                    'devices',
                    $this->sheet->device->key,
                    'serial',
                    $this->plan->row('devices', $this->sheet->device->key)['serial'] ?? null,
                    $text,
                );
            }
        }

        return $edits;
    }

    /** @return list<Edit> the first password is gone, or is taken to be there again */
    private function passwordEdits(Step $step, bool $done, string $at): array
    {
        $edits = [];
        foreach ($this->sheet->slots($step->copies) as $slot) {
            if (['file'] === $slot->setting->written && $this->isProvisionedElsewhere()) {
                // The content of a provider's file is not known.
                continue;
            }
            $secret = $slot->setting->secret;
            $credential = null === $secret ? null : $this->plan->credential($this->sheet->device->record(), $secret);
            if (null !== $credential && $credential->isDefault === $done) {
                $edits[] = Edit::put(
                    'credentials',
                    $credential->key,
                    'state',
                    $done ? 'default' : 'changed',
                    $done ? 'changed' : 'default',
                );
                $changedAt = $done ? $at : null;
                if ($credential->changedAt !== $changedAt) {
                    $edits[] = Edit::put('credentials', $credential->key, 'changedAt', $credential->changedAt, $changedAt);
                }
            }
        }

        return $edits;
    }

    private function isProvisionedElsewhere(): bool
    {
        return null !== $this->plan->providerOf($this->sheet->device->key)
            || !\in_array($this->sheet->device->setting('provisioning')->planned ?? '', ['', FileAddress::HERE], true);
    }

    /** @return list<string> the values that the sheet shows at a step, by the way that was taken */
    private function shownBy(Step $step, string $way): array
    {
        $taken = $step->ways[0];
        foreach ($step->ways as $one) {
            $taken = $one->code === $way ? $one : $taken;
        }
        $shown = $this->sheet->namesOf($step, $taken);

        return [...$shown, ...$this->sheet->shownAsUrl($shown), ...$step->reads];
    }
}
