<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Catalogue\SettingScope;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Catalogue\Way;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\MarkState;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RegistrarEntry;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Text\Message;

/** The steps of one device, with the values to type, what each waits for, and what became of it. */
final readonly class RunSheet
{
    private function __construct(private Plan $plan, public Device $device)
    {
    }

    public static function of(Plan $plan, Device $device): self
    {
        return new self($plan, $device);
    }

    public function mark(Step $step): ?Mark
    {
        return $this->plan->marksOf($this->device->key)[$step->code] ?? null;
    }

    /** A step that does this is marked as done. */
    public function has(Effect $effect): bool
    {
        foreach ($this->device->steps as $step) {
            if ($step->does($effect) && true === $this->mark($step)?->isDone()) {
                return true;
            }
        }

        return false;
    }

    /** Somebody has dealt with the step that powers it, whatever came of it. */
    public function isHookedUp(): bool
    {
        $powers = $this->device->kind->stepThat(Effect::Powers);

        return null !== $powers && null !== $this->mark($powers);
    }

    /** @return list<string> factory states that would add steps to this sheet, as a phone that turns out to have been used */
    public function otherStates(): array
    {
        $states = [];
        foreach ($this->device->kind->steps as $step) {
            if (null !== $step->only && $step->only !== $this->device->factory->when && !\in_array($step->only, $states, true)) {
                $states[] = $step->only;
            }
        }

        return $states;
    }

    /** The first step that is neither done nor skipped. */
    public function next(): ?Step
    {
        foreach ($this->device->steps as $step) {
            if (!$this->isOver($step)) {
                return $step;
            }
        }

        return null;
    }

    public function isDone(): bool
    {
        return null === $this->next();
    }

    /**
     * Since when it can be expected to answer: its cables were marked as plugged, or something was put into it or read back. Null while
     * it is not hooked up; '' where no time is known, and for a kind that has no such step (a router, a laptop) and is taken to be there.
     */
    public function hookedUpSince(): ?string
    {
        $powers = $this->device->kind->stepThat(Effect::Powers);
        if (null === $powers) {
            return '';
        }
        $times = [];
        $mark = $this->mark($powers);
        if (true === $mark?->isDone()) {
            $times[] = $mark->at;
        }
        foreach ($this->device->nics as $nic) {
            foreach ($nic->settings() as $value) {
                if (null !== $value->set) {
                    $times[] = $value->setAt ?? '';
                }
                if (null !== $value->seen) {
                    $times[] = $value->seenAt ?? '';
                }
            }
        }

        return [] === $times ? null : min($times);
    }

    public function isBegun(): bool
    {
        return [] !== $this->plan->marksOf($this->device->key);
    }

    public function doneCount(): int
    {
        return \count(array_filter($this->device->steps, $this->isOver(...)));
    }

    /** @return array<string, true> codes of the steps that are done or skipped */
    public function over(): array
    {
        $over = [];
        foreach ($this->device->steps as $step) {
            if ($this->isOver($step)) {
                $over[$step->code] = true;
            }
        }

        return $over;
    }

    /** Until when a wait of it runs, in Unix time; 0 where none does. */
    public function waitsUntil(): int
    {
        $until = 0;
        foreach ($this->device->steps as $step) {
            $until = max($until, $step->wait > 0 ? $this->wait($step)->ends ?? 0 : 0);
        }

        return $until;
    }

    /** The last who did something with it, and when in Unix time; null where nobody did. */
    public function lastHand(): ?Mark
    {
        $marks = array_values($this->plan->marksOf($this->device->key));
        usort($marks, static fn (Mark $a, Mark $b): int => $a->at <=> $b->at);

        return end($marks) ?: null;
    }

    /** @return list<Step> steps that put something back which another, done by now, changed for a while */
    public function toPutBack(): array
    {
        return array_values(array_filter(
            $this->device->steps,
            fn (Step $step): bool => true === $this->hasToBePutBack($step) && true !== $this->mark($step)?->isDone(),
        ));
    }

    /**
     * What a step waits for, each with who can lift it; empty when nothing stands in its way.
     *
     * @return list<Message>
     */
    public function obstacles(Step $step): array
    {
        return $this->unmet($step->needs);
    }

    /**
     * @param list<Need> $needs
     *
     * @return list<Message> why each that is not met is not
     */
    public function unmet(array $needs): array
    {
        return array_values(array_filter(array_map($this->obstacle(...), $needs)));
    }

    /** What to try once a step failed: what its kind says, another of its ways, or what else may be the cause. */
    public static function nextWay(Step $step, Device $device): Message
    {
        $others = array_map(static fn (Way $way): string => $way->name, \array_slice($step->ways, 1));

        return match (true) {
            null !== $step->fails => new Message($step->fails),
            [] !== $others => new Message('Try it another way: {ways}.', ['ways' => implode(', ', $others)]),
            [] !== array_intersect(['factory', 'login'], $step->copies) => new Message(
                'It may not be as the factory made it. Find its address by {ways}, or set it back to the factory state, and begin anew.',
                ['ways' => implode(', ', $device->kind->tells)],
            ),
            default => new Message(
                'Do the step before it once more, then this one; if it fails again, mark it blocked and write what is missing.',
            ),
        };
    }

    /**
     * What is to be typed at a step.
     *
     * @return list<SheetValue>
     */
    public function values(Step $step, ?Way $way = null): array
    {
        return array_map($this->value(...), $this->valuesOf($step, $way));
    }

    /**
     * The values that a step shows: those that its kind names, and whatever else it records that was planned for this device.
     *
     * @return list<string> names on the sheet
     */
    private function valuesOf(Step $step, ?Way $way = null): array
    {
        $names = array_values(array_filter(($way ?? $step)->copies, fn (string $name): bool => !$this->isOfUnusedPort($name)));
        foreach ($this->slots($step->records) as $name => $slot) {
            $isPlanned = null !== $slot->value->own(Face::Planned) && null === $slot->setting->secret;
            if ($isPlanned && !$this->isOfUnusedPort($name) && !\in_array($name, [...$names, ...$this->shownAsUrl($names)], true)) {
                $names[] = $name;
            }
        }

        return $names;
    }

    /** Whether a name on the sheet means a port that is plugged in nowhere. */
    private function isOfUnusedPort(string $name): bool
    {
        $port = $this->plan->settings()->slot($this->device, $name)?->port;
        $nic = null === $port || \count($this->device->nics) < 2 ? null : $this->device->nicNamed($port);

        return null !== $nic && null === $nic->segment;
    }

    /**
     * @param list<string> $names that a step shows
     *
     * @return list<string> the settings that the address of a file server stands for
     */
    private function shownAsUrl(array $names): array
    {
        return \in_array('url', $names, true) ? ['provisioning', 'provisioningUser'] : [];
    }

    /**
     * The settings that a step puts in, as they stand on the sheet.
     *
     * @param list<string> $names
     *
     * @return array<string, SettingSlot> name on the sheet → slot
     */
    public function slots(array $names): array
    {
        $slots = [];
        foreach ($names as $name) {
            $slot = $this->plan->settings()->slot($this->device, $name);
            if (null !== $slot) {
                $slots[$name] = $slot;
            }
        }

        return $slots;
    }

    /**
     * The changes that marking a step makes: the mark itself, and for a step that is done the settings that are now *set* in the device,
     * what was read off it, and that its first password is gone. What was seen before of a setting that is set anew is no longer known.
     *
     * @param StepMark $mark with values as they are stored; StepReport checks those that a person typed
     * @param string   $at   UTC, `2026-03-02T09:30:00Z`
     */
    public function markChange(
        Step $step,
        StepMark $mark,
        string $by,
        string $at,
    ): Change {
        $key = $this->device->key.'.'.$step->code;
        $edits = [];
        $before = $this->plan->row('marks', $key);
        if (null !== $before) {
            $edits[] = Edit::remove('marks', $before);
        }
        if (MarkState::Open !== $mark->state) {
            $edits[] = Edit::add('marks', [
                'key' => $key,
                'device' => $this->device->key,
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
            foreach ($this->slots($step->records) as $name => $slot) {
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
            'tag' => $this->device->tag,
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
        foreach ($this->device->steps as $step) {
            // No page tells a password, so none is taken for changed.
            $isOpen = null === $this->mark($step) && !$step->does(Effect::Secures) && [] === $this->obstacles($step);
            if (!$isOpen || !$this->isReadBack($step)) {
                continue;
            }
            foreach ($this->markChange($step, StepMark::done(), $by, $at)->edits as $edit) {
                // Two steps may record the same setting.
                $edits[$edit->record().' '.$edit->field] = $edit;
            }
            $done[] = new Message($step->do);
        }

        return new Change(
            new Message('{tag}, read back: {steps}', ['tag' => $this->device->tag, 'steps' => Message::join($done)]),
            array_values($edits),
        );
    }

    private function isReadBack(Step $step): bool
    {
        $seen = 0;
        foreach ($this->slots($step->records) as $name => $slot) {
            $value = $slot->value;
            if (null === $value->planned || $this->isOfUnusedPort($name)) {
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
     * What was put in by hand and no page of it tells: only a look at it shows that it is so.
     *
     * @return array<string, SettingSlot> by local name
     */
    public function toLookAt(): array
    {
        $pages = $this->device->kind->adminFields();
        $left = [];
        foreach ($this->device->steps as $step) {
            if (true === $this->mark($step)?->isDone()) {
                foreach ($this->slots($step->records) as $slot) {
                    $isTold = isset($pages[$slot->local]) || null !== $slot->setting->secret;
                    if (!$isTold && null !== $slot->value->set && $slot->value->seen !== $slot->value->set) {
                        $left[$slot->local] = $slot;
                    }
                }
            }
        }

        return $left;
    }

    /**
     * Somebody looked, and these are as they were set.
     *
     * @param list<string> $locals
     */
    public function confirmValues(array $locals): Change
    {
        $edits = [];
        foreach (array_intersect_key($this->toLookAt(), array_flip($locals)) as $slot) {
            $edits[] = Edit::setting($slot->ref, Face::Seen, $slot->value->seen, $slot->value->set);
            if (null !== $slot->value->odd) {
                $edits[] = Edit::put('settings', (string) $slot->ref, 'odd', $slot->value->odd, null);
            }
        }

        return new Change(new Message('{tag}: looked at, as set.', ['tag' => $this->device->tag]), $edits);
    }

    /** The wait of a step begins, or begins anew. */
    public function waitChange(Step $step, string $by, string $at): Change
    {
        return new Change(
            new Message('{tag}: a wait of {n} s began.', ['tag' => $this->device->tag, 'n' => $step->wait]),
            [...$this->waitEnds($step), Edit::add('waits', [
                'key' => $this->device->key.'.'.$step->code,
                'device' => $this->device->key,
                'step' => $step->code,
                'at' => $at,
                'seconds' => max(1, $step->wait),
                'by' => $by,
            ])],
        );
    }

    public function waitStopped(Step $step): Change
    {
        return new Change(new Message('{tag}: the wait was ended.', ['tag' => $this->device->tag]), $this->waitEnds($step));
    }

    /** @return list<Edit> */
    private function waitEnds(Step $step): array
    {
        $row = $this->plan->row('waits', $this->device->key.'.'.$step->code);

        return null === $row ? [] : [Edit::remove('waits', $row)];
    }

    public function wait(Step $step): ?RunningWait
    {
        $row = $this->plan->row('waits', $this->device->key.'.'.$step->code);

        return null === $row ? null : RunningWait::fromRow(new Row($row));
    }

    /** Whether what this step puts back was changed; null for a step that puts nothing back, or of which nobody knows yet. */
    private function hasToBePutBack(Step $step): ?bool
    {
        $changed = null === $step->undoes ? null : $this->device->kind->step($step->undoes);
        $mark = null === $changed ? null : $this->mark($changed);
        if (null === $changed || true !== $mark?->isDone()) {
            return null;
        }

        return null === $step->undoesWay || $step->undoesWay === ('' === $mark->way ? $changed->ways[0]->code : $mark->way);
    }

    /** Dealt with: done, passed over, or there is nothing to put back. */
    private function isOver(Step $step): bool
    {
        return true === $this->mark($step)?->state->isSettled() || false === $this->hasToBePutBack($step);
    }

    private function value(string $name): SheetValue
    {
        $device = $this->device;
        $nic = $device->nic();
        $slot = $this->plan->settings()->slot($device, $name);
        if (null !== $slot) {
            return $this->slotValue($name, $slot);
        }
        $factory = $device->factory;

        return match ($name) {
            'mac' => SheetValue::of($name, 'MAC', null === $nic?->mac ? null : (string) $nic->mac),
            'serial' => SheetValue::of($name, 'Serial', '' === $device->serial ? null : $device->serial),
            'factory' => SheetValue::of($name, 'Out of the box', null === $factory->address ? null : (string) $factory->address),
            'login' => $this->login($name),
            'url' => $this->fileServer($name),
            'authority-url' => SheetValue::servedHere($name, 'Load it from'),
            default => SheetValue::of($name, $name, null),
        };
    }

    /** What its provider gave goes before our own address. */
    private function fileServer(string $name): SheetValue
    {
        $planned = $this->device->setting('provisioning')->planned;
        $provider = $this->plan->devices[$this->plan->providerOf($this->device->key) ?? ''] ?? null;

        return match (true) {
            null === $planned && null !== $provider => SheetValue::of($name, 'File server', null, new Message(
                'The provisioning string of {registrar}: copy it there first.',
                ['registrar' => $provider->tag],
            )),
            \in_array($planned ?? '', ['', FileAddress::HERE], true) => SheetValue::servedHere($name, 'File server'),
            default => SheetValue::of($name, 'File server', $planned),
        };
    }

    private function slotValue(string $name, SettingSlot $slot): SheetValue
    {
        $setting = $slot->setting;
        if (null !== $setting->secret) {
            return SheetValue::secret($name, $setting->label, $setting->secret);
        }
        $planned = $slot->value->planned;
        $which = null !== $slot->port && \count($this->device->activeNics()) > 1 ? $slot->port : $slot->which();
        if ('' === $planned) {
            return SheetValue::of($name, $setting->label, '', $this->whyBlank($slot), $which);
        }

        return SheetValue::of(
            $name,
            $setting->label,
            null === $planned ? null : $setting->type->format($this->plan->settings()->show($setting, $planned)),
            null,
            $which,
            $setting->unit,
        );
    }

    private function whyBlank(SettingSlot $slot): Message
    {
        $segment = $this->plan->segments[($this->device->nicNamed($slot->port ?? '') ?? $this->device->nic())->segment ?? ''] ?? null;

        return match (true) {
            !$slot->value->inherited => new Message('The plan leaves it blank on purpose.'),
            SettingScope::Port === $slot->setting->scope
                && false === $segment?->routed => new Message(
                    'No router is on {segment}: nothing to name here.',
                    ['segment' => $segment->name],
                ),
            default => new Message('Nothing is wanted here.'),
        };
    }

    /** The login that opens the device now: the first one until its password was changed. */
    private function login(string $name): SheetValue
    {
        $admin = $this->plan->credential($this->device->record(), 'admin');
        if (null !== $admin && !$admin->isDefault && $this->has(Effect::Secures)) {
            return SheetValue::secret($name, 'Login', 'admin', $admin->user);
        }
        $login = $this->device->kind->login;
        $user = $this->device->loginUser();
        $labelled = null !== $this->plan->credential($this->device->record(), 'label');
        $password = match (true) {
            $labelled, LoginPattern::OnTheLabel === $login->pattern => new Message('as printed on the label'),
            LoginPattern::SerialNumber === $login->pattern => new Message('its serial number {serial}', [
                'serial' => $this->device->serial,
            ]),
            LoginPattern::Empty === $login->pattern => new Message('(empty)'),
            LoginPattern::Held === $login->pattern => new Message('somebody holds it: ask'),
            default => new Message('{password}', ['password' => $login->password]),
        };

        return SheetValue::of(
            $name,
            'Login',
            LoginPattern::Fixed === $login->pattern && !$labelled ? $user.' / '.$login->password : $user,
            $password,
        );
    }

    private function obstacle(Need $need): ?Message
    {
        $device = $this->device;
        $at = ['tag' => $device->tag];
        if ('extension' === $need->word) {
            return [] !== $this->plan->extensionsOf($device->key)
                ? null
                : new Message('{tag} has no number yet: the lead gives one in Services.', $at);
        }
        if ('registrar-entry' === $need->word) {
            foreach ($this->plan->extensionsOf($device->key) as $extension) {
                $entry = RegistrarEntry::of($this->plan, $extension, $device->key);
                if (true !== $entry?->isEntered()) {
                    return new Message(
                        false === $entry?->needsMac()
                            ? 'The account of {number} is not entered at the registrar: enter it there first, then here.'
                            : 'The MAC of {tag} is not entered at the registrar for {number}: enter it there first, then here.',
                        $at + ['number' => $extension->number],
                    );
                }
            }

            return null;
        }
        if ('licence' === $need->word) {
            $term = $device->kind->licence($need->of);
            $wants = null === $term ? null : LicenceNeed::of($this->plan, $device, $term);

            return match (true) {
                null === $wants || 0 === $wants->missing() => null,
                null !== $wants->ordered => new Message('{what} of {tag}: ordered on {day}, not here yet.', $at + [
                    'what' => new Message($wants->term->name),
                    'day' => $wants->ordered,
                ]),
                default => new Message('{what} of {tag}: {n} more are wanted; the lead orders them, they take {days} days.', $at + [
                    'what' => new Message($wants->term->name),
                    'n' => $wants->missing(),
                    'days' => $wants->term->lead,
                ]),
            };
        }
        $slot = $this->plan->settings()->slot($device, $need->of);
        if ('planned' === $need->word) {
            return null === $slot
                || $this->isOfUnusedPort($need->of)
                || null !== $slot->value->planned
                    ? null
                    : new Message('{setting} of {tag} is not planned yet.', $at + ['setting' => new Message($slot->label())]);
        }
        if ('staged' === $need->word) {
            $other = $this->plan->devices[$slot?->value->planned ?? ''] ?? null;

            return match (true) {
                null === $other => new Message(
                    '{setting} of {tag} is not planned yet.',
                    $at + ['setting' => new Message($slot?->label() ?? $need->of)],
                ),
                self::of($this->plan, $other)->isDone() => null,
                default => new Message('{other} has to be staged first.', ['other' => $other->tag]),
            };
        }

        return '' !== $this->plan->job->text($need->of) || [] !== $this->plan->job->list($need->of)
            ? null
            : new Message('The job does not say "{what}" yet: it belongs in the Brief.', ['what' => $need->of]);
    }

    /**
     * @param array<string, string> $read
     *
     * @return list<Edit>
     */
    private function readings(array $read): array
    {
        $edits = [];
        $nic = $this->device->nic();
        foreach ($read as $name => $text) {
            $slot = $this->plan->settings()->slot($this->device, $name);
            if (null !== $slot) {
                $edits = [
                    ...$edits,
                    ...($slot->value->seen === $text ? [] : [Edit::setting($slot->ref, Face::Seen, $slot->value->seen, $text)]),
                ];
            } elseif ('mac' === $name && null !== $nic && null === $nic->mac) {
                $edits[] = Edit::put('nics', $nic->key, 'mac', null, $text);
            } elseif ('serial' === $name && '' === $this->device->serial) {
                $edits[] = Edit::put(
                    'devices',
                    $this->device->key,
                    'serial',
                    $this->plan->row('devices', $this->device->key)['serial'] ?? null,
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
        foreach ($this->slots($step->copies) as $slot) {
            if (['file'] === $slot->setting->written && $this->isProvisionedElsewhere()) {
                // The content of a provider's file is not known.
                continue;
            }
            $credential = null === $slot->setting->secret ? null : $this->plan->credential($this->device->record(), $slot->setting->secret);
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
        return null !== $this->plan->providerOf($this->device->key)
            || !\in_array($this->device->setting('provisioning')->planned ?? '', ['', FileAddress::HERE], true);
    }

    /** @return list<string> the values that the sheet shows at a step, by the way that was taken */
    private function shownBy(Step $step, string $way): array
    {
        $taken = $step->ways[0];
        foreach ($step->ways as $one) {
            $taken = $one->code === $way ? $one : $taken;
        }
        $shown = $this->valuesOf($step, $taken);

        return [...$shown, ...$this->shownAsUrl($shown), ...$step->reads];
    }
}
