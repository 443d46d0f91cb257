<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Catalogue\Kind;

/**
 * What a new device brings with it.
 *
 * @phpstan-import-type RowData from Edit
 */
final class DeviceDefaults
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
        $kind = $plan->catalogue->kind((new Row($device))->text('kind'));

        return null === $kind ? [] : self::ports($kind, $device, $mac, $segment);
    }

    /**
     * @param RowData $device
     *
     * @return list<RowData>
     */
    public static function ports(Kind $kind, array $device, ?string $mac = null, ?string $segment = null): array
    {
        $key = Row::keyOf($device);
        $nics = [];
        $first = $kind->activePorts()[0] ?? null;
        foreach ($kind->ports as $i => $port) {
            $nics[] = [
                'key' => $key.'.'.$port->name,
                'device' => $key,
                'name' => $port->name,
                'mac' => 0 === $i ? $mac : null,
                // A further port goes somewhere else, or nowhere.
                'segment' => $port === $first ? $segment : null,
                'mode' => $port->passive ? 'static' : $port->mode,
                'locked' => null,
            ];
        }

        return $nics;
    }
}
