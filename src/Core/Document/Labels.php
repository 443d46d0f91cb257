<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;

/** The content of a device label: readable across a table for a tired technician, with a code that opens its run sheet on a phone. */
final readonly class Labels
{
    /**
     * @param list<string> $tags only these; all where none is named
     *
     * @return list<array{
     *     key: string, tag: string, kind: string, room: string, lines: list<array{port: string, address: string, mac: string}>,
     * }> in the order of the roster
     */
    public static function of(Plan $plan, array $tags = []): array
    {
        $labels = [];
        foreach ($plan->devices as $device) {
            $isNamed = [] === $tags || \in_array(strtolower($device->tag), array_map(strtolower(...), $tags), true);
            if (!$isNamed || $device->kind->has(Role::Workstation)) {
                continue;
            }
            $labels[] = [
                'key' => $device->key,
                'tag' => $device->tag,
                'kind' => $device->kind->name,
                'room' => $device->room,
                'lines' => self::lines($plan, $device),
            ];
        }

        return $labels;
    }

    /**
     * @return list<array{
     *     port: string, address: string, mac: string,
     * }> of every port that is plugged in, or of every interface of a router
     */
    private static function lines(Plan $plan, Device $device): array
    {
        $lines = [];
        $several = $device->isOnSeveralSegments();
        foreach ($device->activeNics() as $nic) {
            if ($nic === $device->nic() || null !== $nic->segment) {
                $lines[] = ['port' => $several ? $nic->name : '', 'address' => self::address($nic), 'mac' => (string) $nic->mac];
            }
        }
        foreach ($plan->routerPorts as $port) {
            if ($port->router === $device->key) {
                $lines[] = ['port' => $plan->segments[$port->segment]->name ?? '', 'address' => (string) $port->address, 'mac' => ''];
            }
        }

        return $lines;
    }

    /** With its prefix: a mask that is not on the label is guessed. */
    private static function address(Nic $nic): string
    {
        $address = $nic->setting('address')->planned ?? '';

        return '' === $address ? '' : $address.($nic->setting('mask')->planned ?? '');
    }
}
