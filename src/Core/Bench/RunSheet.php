<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Need;
use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Catalogue\Way;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
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

    /** The step that powers it was marked, done or not. */
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
     * Since when it can be expected to answer: its cables were marked as plugged, or a value was set or read back. Null while it is not
     * hooked up; '' where no time is known, and for a kind without such a step (a router, a laptop), which is taken to be there.
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

    /** The last person who worked on it, and when in Unix time; null if there is none. */
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
     * Everything that blocks a step, each with the person who can clear it; empty if the step can be done.
     *
     * @return list<Obstacle>
     */
    public function obstacles(Step $step): array
    {
        return $this->unmet($step->needs);
    }

    /**
     * @param list<Need> $needs
     *
     * @return list<Obstacle> why each that is not met is not
     */
    public function unmet(array $needs): array
    {
        return array_values(array_filter(array_map((new NeedCheck($this->plan, $this->device))->unmet(...), $needs)));
    }

    /** What a change of the job makes of it: a mark, a wait, values that were read back. */
    public function changes(): SheetChanges
    {
        return new SheetChanges($this->plan, $this);
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
                'Repeat the previous step, then this one. If it fails again, mark it as blocked and note the reason.',
            ),
        };
    }

    /**
     * The values to type at a step.
     *
     * @return list<SheetValue>
     */
    public function values(Step $step, ?Way $way = null): array
    {
        return array_map((new SheetValues($this->plan, $this))->value(...), $this->namesOf($step, $way));
    }

    /**
     * The values that a step shows: those that its kind names, and whatever else it records that was planned for this device.
     *
     * @return list<string> names on the sheet
     */
    public function namesOf(Step $step, ?Way $way = null): array
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
    public function isOfUnusedPort(string $name): bool
    {
        $port = $this->plan->settings()->slot($this->device, $name)?->port;
        $nic = null === $port || \count($this->device->nics) < 2 ? null : $this->device->nicNamed($port);

        return null !== $nic && null === $nic->segment;
    }

    /**
     * @param list<string> $names that a step shows
     *
     * @return list<string> the settings that the address of a file server fills
     */
    public function shownAsUrl(array $names): array
    {
        return \in_array('url', $names, true) ? ['provisioning', 'provisioningUser'] : [];
    }

    /**
     * The settings that a step sets, as shown on the sheet.
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
     * Values set by hand that no admin page shows: only looking at the device confirms them.
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

    public function wait(Step $step): ?RunningWait
    {
        $row = $this->plan->row('waits', $this->device->key.'.'.$step->code);

        return null === $row ? null : RunningWait::fromRow(new Row($row));
    }

    /** Whether the change that this step undoes was made; null for a step that undoes nothing, or if that is not known yet. */
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
}
