<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/**
 * What a new device brings with it.
 *
 * @phpstan-import-type RowData from Edit
 */
final class Newcomer
{
    /**
     * The interfaces of its kind, the first one with the MAC and segment that were given.
     *
     * @param RowData $device
     *
     * @return list<RowData>
     */
    public static function nics(Plan $plan, array $device, ?string $mac = null, ?string $segment = null): array
    {
        $row = new Row($device);
        $kind = $plan->kinds->find($row->text('kind'));
        $nics = [];
        foreach ($kind->nics ?? [] as $i => $port) {
            $nics[] = [
                'key' => $row->text('key').'.'.$port['name'],
                'device' => $row->text('key'),
                'name' => $port['name'],
                'mac' => 0 === $i ? $mac : null,
                'segment' => $port['passive'] ? null : $segment,
                'mode' => $port['passive'] ? 'static' : $kind->mode ?? 'static',
                'locked' => null,
            ];
        }

        return $nics;
    }
}
