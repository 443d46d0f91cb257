<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Step;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** Reminders for everybody at the bench, whatever device they work on: running waits, changes to undo, unlocks that expire. */
final readonly class BusyStrip
{
    /**
     * @param list<array{wait: RunningWait, device: Device}> $waits   what ends first comes first
     * @param list<array{device: Device, step: Step}>        $putBack
     * @param list<array{device: Device, name: string, until: string}> $unlocks that hold for a time only, what ends first comes first
     */
    private function __construct(public array $waits, public array $putBack, public array $unlocks)
    {
    }

    public static function of(Plan $plan): self
    {
        $waits = [];
        foreach ($plan->records('waits') as $row) {
            $wait = RunningWait::fromRow($row);
            $device = $plan->devices[$wait->device] ?? null;
            if (null !== $device) {
                $waits[] = ['wait' => $wait, 'device' => $device];
            }
        }
        usort($waits, static fn (array $a, array $b): int => [$a['wait']->ends, $a['wait']->key] <=> [$b['wait']->ends, $b['wait']->key]);
        $putBack = [];
        foreach ($plan->devices as $device) {
            if ($device->kind->putsBack) {
                foreach (RunSheet::of($plan, $device)->toPutBack() as $step) {
                    $putBack[] = ['device' => $device, 'step' => $step];
                }
            }
        }

        $unlocks = [];
        foreach ($plan->records('licences') as $row) {
            $device = $plan->devices[$row->text('device')] ?? null;
            $until = $row->text('validUntil');
            if (null !== $device && '' !== $until && $row->bool('temporary')) {
                $unlocks[] = [
                    'device' => $device,
                    'name' => $device->kind->licence($row->text('feature'))->name ?? $row->text('feature'),
                    'until' => $until,
                ];
            }
        }
        usort($unlocks, static fn (array $a, array $b): int => [$a['until'], $a['device']->key] <=> [$b['until'], $b['device']->key]);

        return new self($waits, $putBack, $unlocks);
    }
}
