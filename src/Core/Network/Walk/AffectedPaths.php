<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\OutpostKey;

/**
 * Walks that a change could break, compared before and after: to and from every device that it affects, and across the routers. Not every
 * walk of the job: those between unaffected places stay as they were.
 */
final class AffectedPaths
{
    private const PLACES = 6;

    /** @return list<array{string, string}> what held before and does not after: from, to */
    public static function brokenBy(NetworkModel $before, NetworkModel $after, Remedy $remedy): array
    {
        $lost = [];
        foreach (self::pairs($before, $after, $remedy) as [$from, $to]) {
            if (Walker::between($before, $from, $to, null)->holds() && !Walker::between($after, $from, $to, null)->holds()) {
                $lost[] = [$from, $to];
            }
        }

        return $lost;
    }

    /** @return iterable<array{string, string}> */
    private static function pairs(NetworkModel $before, NetworkModel $after, Remedy $remedy): iterable
    {
        $places = array_map(
            static fn (string $segment): string => OutpostKey::on($segment),
            \array_slice(array_map(strval(...), array_keys($before->plan->segments)), 0, self::PLACES),
        );
        foreach (array_map(strval(...), array_keys(self::changedDevices($before, $after, $remedy))) as $device) {
            foreach ($before->hostsOf($device) as $host) {
                yield [OutpostKey::on($host->segment), $device];
            }
            foreach ($places as $place) {
                yield [$place, $device];
            }
        }
        if ([] === array_filter($remedy->change->edits, static fn (Edit $edit): bool => 'settings' !== $edit->section)) {
            return;
        }
        foreach ($before->plan->segments as $segment) {
            $there = null;
            foreach ($before->plan->nicsOn($segment->key) as $nic) {
                $there ??= $before->host($nic->record())?->device;
            }
            if (null !== $there) {
                foreach ($places as $place) {
                    yield [$place, $there];
                }
            }
        }
    }

    /** @return array<string, true> devices whose own settings change, and who holds what they held or will hold */
    private static function changedDevices(NetworkModel $before, NetworkModel $after, Remedy $remedy): array
    {
        $devices = [];
        foreach ($remedy->change->edits as $edit) {
            $nic = explode('#', $edit->key)[0];
            $nic = 'settings' === $edit->section ? $nic : $edit->section.'/'.$nic;
            foreach ([$before->host($nic), $after->host($nic)] as $host) {
                if (null === $host?->address) {
                    continue;
                }
                foreach ([$host, ...$before->holders($host->segment, $host->address)] as $one) {
                    if (null !== $one->device && !$one->forwards) {
                        $devices[$one->device] = true;
                    }
                }
            }
        }

        return $devices;
    }
}
