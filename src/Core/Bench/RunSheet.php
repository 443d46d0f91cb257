<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Kind\Step;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Mark;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Schema;

/** The steps of one device, with the values to type and what became of each. */
final readonly class RunSheet
{
    /** The step after which a device is on the wire. */
    public const HOOK_UP = 'hook-up';

    private function __construct(private Plan $plan, public Device $device)
    {
    }

    public static function of(Plan $plan, Device $device): self
    {
        return new self($plan, $device);
    }

    public function mark(Step $step): ?Mark
    {
        return $this->plan->marks[$this->device->key][$step->code] ?? null;
    }

    public function isMarked(string $step): bool
    {
        return ($this->plan->marks[$this->device->key][$step] ?? null)?->isDone() ?? false;
    }

    /** The first step that is neither done nor skipped. */
    public function next(): ?Step
    {
        foreach ($this->device->kind->steps as $step) {
            if (!\in_array($this->mark($step)?->state, ['done', 'skipped'], true)) {
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
     * Since when it can be expected to answer: its cables were marked as plugged, or something was put into it or read back. Null while it is not
     * hooked up; '' where no time is known, and for a kind that has no such step (a router, a laptop) and is taken to be there.
     */
    public function hookedUpSince(): ?string
    {
        if ([] === array_filter($this->device->kind->steps, static fn (Step $step): bool => self::HOOK_UP === $step->code)) {
            return '';
        }
        $times = [];
        if ($this->isMarked(self::HOOK_UP)) {
            $times[] = $this->plan->marks[$this->device->key][self::HOOK_UP]->at;
        }
        foreach ($this->device->nics as $nic) {
            foreach (array_keys(Schema::FACED['nics']) as $field) {
                $value = $nic->value($field);
                $times = [...$times, ...(null === $value->set ? [] : [$value->setAt ?? '']), ...(null === $value->seen ? [] : [$value->seenAt ?? ''])];
            }
        }

        return [] === $times ? null : min($times);
    }

    public function isBegun(): bool
    {
        return [] !== ($this->plan->marks[$this->device->key] ?? []);
    }

    public function done(): int
    {
        return \count(array_filter($this->device->kind->steps, fn (Step $step): bool => \in_array($this->mark($step)?->state, ['done', 'skipped'], true)));
    }

    /**
     * What is to be typed at a step, name → value; null where the plan does not know it yet. `password` and `url` are secrets and
     * come from elsewhere.
     *
     * @return array<string, string|null>
     */
    public function values(Step $step): array
    {
        $nic = $this->device->nic();
        $values = [];
        foreach ($step->values as $name) {
            $values[$name] = match ($name) {
                'address', 'gateway', 'dns' => $nic?->value($name)->planned,
                'mask' => null === $nic?->mask->planned ? null : Mask::fromString($nic->mask->planned)->dotted(),
                'mac' => null === $nic?->mac ? null : (string) $nic->mac,
                'serial' => '' === $this->device->serial ? null : $this->device->serial,
                'factory' => null === $this->device->kind->factoryAddress ? null : (string) $this->device->kind->factoryAddress,
                'login' => $this->device->kind->loginUser.' / '.('' === $this->device->kind->loginPassword ? '(empty)' : $this->device->kind->loginPassword),
                'hostName' => $this->device->value('hostName')->planned,
                'ntp' => $this->plan->job->textOrNull('ntp'),
                default => null,
            };
        }

        return $values;
    }

    /**
     * What marking a step changes: the mark itself, and for a step that is done the values that are now *set* in the device. What was seen
     * before is no longer known.
     *
     * @param array<string, string> $typed values that differ from the plan, as the technician says they were typed
     */
    public function markChange(Step $step, string $state, string $note, string $by, string $at, array $typed = []): Change
    {
        $key = $this->device->key.'.'.$step->code;
        $edits = [];
        $before = $this->plan->row('marks', $key);
        if (null !== $before) {
            $edits[] = Edit::remove('marks', $before);
        }
        if ('open' !== $state) {
            $edits[] = Edit::add('marks', ['key' => $key, 'device' => $this->device->key, 'step' => $step->code, 'state' => $state, 'note' => '' === $note ? null : $note, 'by' => $by, 'at' => $at]);
        }
        foreach ('done' === $state ? $step->records : [] as $field) {
            $nic = $this->device->nic();
            if (!isset(Schema::FACED['nics'][$field])) {
                [$owner, $value] = ['devices/'.$this->device->key, $this->device->value($field)];
            } elseif (null !== $nic) {
                [$owner, $value] = ['nics/'.$nic->key, $nic->value($field)];
            } else {
                continue;
            }
            $put = $typed[$field] ?? $value->planned;
            if (null === $put) {
                continue;
            }
            if ($value->set !== $put) {
                $edits[] = Edit::value($owner, $field, Face::Set, $value->set, $put);
            }
            if (null !== $value->seen && $value->seen !== $put) {
                $edits[] = Edit::value($owner, $field, Face::Seen, $value->seen, null);
            }
        }

        return new Change(new Message('{tag}: step "{step}" {state}.', ['tag' => $this->device->tag, 'step' => $step->code, 'state' => $state]), $edits);
    }
}
