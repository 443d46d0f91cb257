<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

use Vorhut\Core\Agreement\Agreements;
use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\SettingSlot;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Sound\PatchBay;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Walk\NetworkModel;

/** What the rules look at: the snapshot, and what is computed from it once for all of them. */
final class RuleContext
{
    private ?NetworkModel $model = null;
    private ?Queue $queue = null;
    private ?Proof $proof = null;
    private ?Agreements $agreements = null;
    private ?PatchBay $patchBay = null;
    /** @var list<array{Device, SettingSlot}>|null */
    private ?array $slots = null;

    public function __construct(public readonly Plan $plan)
    {
    }

    /** The network as it was set up, else as planned. */
    public function networkModel(): NetworkModel
    {
        return $this->model ??= NetworkModel::of($this->plan, Face::Set);
    }

    public function queue(): Queue
    {
        return $this->queue ??= Queue::of($this->plan);
    }

    public function proof(): Proof
    {
        return $this->proof ??= Proof::of($this->plan, $this->networkModel(...));
    }

    public function sheet(Device $device): RunSheet
    {
        return RunSheet::of($this->plan, $device);
    }

    /** Settings that have to agree, all of them. */
    public function agreements(): Agreements
    {
        return $this->agreements ??= Agreements::of($this->plan);
    }

    /** Ways of sound through processors; null where nothing is patched. */
    public function patchBay(): ?PatchBay
    {
        return $this->patchBay ??= [] === $this->plan->soundPatches ? null : PatchBay::of($this->plan);
    }

    /** @return list<array{Device, SettingSlot}> every setting that a device was told or says, in roster order; secrets left out */
    public function slots(): array
    {
        if (null === $this->slots) {
            $this->slots = [];
            foreach ($this->plan->devices as $device) {
                foreach ($this->plan->slots($device, true) as $slot) {
                    $value = $slot->value;
                    if (null === $slot->setting->secret && null !== ($value->set ?? $value->seen ?? $value->odd)) {
                        $this->slots[] = [$device, $slot];
                    }
                }
            }
        }

        return $this->slots;
    }

    /** A value as a person reads it. */
    public function shown(SettingSlot $slot, string $value): string|Message
    {
        return '' === $value ? new Message('(blank)') : $slot->setting->withUnit($this->plan->showSetting($slot->setting, $value));
    }

    /** @return list<array{Device, Nic}> every nic that carries an address, with its device, in roster order */
    public function nics(): array
    {
        $all = [];
        foreach ($this->plan->devices as $device) {
            foreach ($device->nics as $nic) {
                if (!$nic->passive) {
                    $all[] = [$device, $nic];
                }
            }
        }

        return $all;
    }

    /**
     * Groups of things that share a text which must be unique.
     *
     * @template T
     *
     * @param iterable<array{string, T}> $pairs text → thing; empty texts are left out
     *
     * @return array<string, non-empty-list<T>> only where two or more share
     */
    public static function shared(iterable $pairs): array
    {
        $groups = [];
        foreach ($pairs as [$text, $thing]) {
            if ('' !== $text) {
                $groups[$text][] = $thing;
            }
        }

        return array_filter($groups, static fn (array $group): bool => \count($group) > 1);
    }
}
