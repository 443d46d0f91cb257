<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

use Vorhut\Core\Bench\Queue;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Walk\Fabric;

/** What the rules look at: the snapshot, and what is computed from it once for all of them. */
final class Ground
{
    private ?Fabric $fabric = null;
    private ?Queue $queue = null;
    private ?Proof $proof = null;

    public function __construct(public readonly Plan $plan)
    {
    }

    /** The network as it was set up, else as planned. */
    public function fabric(): Fabric
    {
        return $this->fabric ??= Fabric::of($this->plan, Face::Set);
    }

    public function queue(): Queue
    {
        return $this->queue ??= Queue::of($this->plan);
    }

    public function proof(): Proof
    {
        return $this->proof ??= Proof::of($this->plan);
    }

    public function sheet(Device $device): RunSheet
    {
        return RunSheet::of($this->plan, $device);
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
