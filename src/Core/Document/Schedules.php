<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Proof\Proof;

/**
 * The tables of the handover; page, print and CSV are made of the same rows.
 *
 * @phpstan-type Address array{segment: string, vlan: string, tag: string, kind: string, room: string, interface: string, address: string, mask: string, gateway: string, dns: string, mac: string, serial: string, hostName: string, firmware: string, how: string, setBy: string, setAt: string}
 */
final class Schedules
{
    /** @return list<Address> by segment, then by address */
    public static function addresses(Plan $plan): array
    {
        return array_merge(...array_values(self::addressesBySegment($plan)));
    }

    /** @return array<string, list<Address>> segment key ('' for what is on none) → its rows by address, segments by name */
    public static function addressesBySegment(Plan $plan): array
    {
        $rows = [];
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                if (!$nic->passive) {
                    $rows[isset($plan->segments[$nic->segment ?? '']) ? (string) $nic->segment : ''][] = self::ofNic($plan, $device, $nic);
                }
            }
        }
        foreach ($plan->routerPorts as $port) {
            $rows[$port->segment][] = self::ofRouterPort($plan, $port);
        }
        foreach ($rows as $key => $some) {
            usort($some, static fn (array $a, array $b): int => [Ipv4::tryFromString($a['address'])->number ?? 0, $a['tag']] <=> [Ipv4::tryFromString($b['address'])->number ?? 0, $b['tag']]);
            $rows[$key] = $some;
        }
        uksort($rows, static fn (string $a, string $b): int => ['' === $a, $plan->segments[$a]->name ?? '', $a] <=> ['' === $b, $plan->segments[$b]->name ?? '', $b]);

        return $rows;
    }

    /** @return Address */
    private static function ofNic(Plan $plan, Device $device, Nic $nic): array
    {
        $segment = $plan->segments[$nic->segment ?? ''] ?? null;

        return [
            'segment' => $segment->name ?? '',
            'vlan' => (string) $segment?->vlan,
            'tag' => $device->tag,
            'kind' => $device->kind->name,
            'room' => $device->room,
            'interface' => $nic->name,
            'address' => $nic->address->asOf(Face::Set) ?? '',
            'mask' => (string) Mask::tryFromString($nic->mask->asOf(Face::Set) ?? '')?->dotted(),
            'gateway' => $nic->gateway->asOf(Face::Set) ?? '',
            'dns' => $nic->dns->asOf(Face::Set) ?? '',
            'mac' => (string) $nic->mac,
            'serial' => $device->serial,
            'hostName' => $device->value('hostName')->asOf(Face::Seen) ?? '',
            'firmware' => $device->value('firmware')->asOf(Face::Seen) ?? '',
            'how' => $nic->reserved ? 'DHCP reservation' : 'static',
            'setBy' => $nic->address->setBy ?? '',
            'setAt' => $nic->address->setAt ?? '',
        ];
    }

    /** @return Address */
    private static function ofRouterPort(Plan $plan, RouterPort $port): array
    {
        $segment = $plan->segments[$port->segment] ?? null;
        $router = $plan->devices[$port->router] ?? null;

        return [
            'segment' => $segment->name ?? '',
            'vlan' => (string) $segment?->vlan,
            'tag' => $router->tag ?? $port->router,
            'kind' => $router->kind->name ?? '',
            'room' => $router->room ?? '',
            'interface' => $segment->name ?? $port->segment,
            'address' => (string) $port->address,
            'mask' => $port->mask->dotted(),
            'gateway' => '',
            'dns' => '',
            'mac' => '',
            'serial' => $router->serial ?? '',
            'hostName' => '',
            'firmware' => '',
            'how' => 'router',
            'setBy' => '',
            'setAt' => '',
        ];
    }

    /** @return list<array{number: string, name: string, terminal: string, phone: string, room: string, registrar: string, account: string, mac: string, voicemail: string, location: string}> */
    public static function numbers(Plan $plan): array
    {
        $rows = [];
        foreach ($plan->extensions as $extension) {
            $account = $plan->accountOf($extension->key);
            $phone = $plan->devices[$extension->phone ?? ''] ?? null;
            $rows[] = [
                'number' => $extension->number,
                'name' => $extension->name,
                'terminal' => $extension->terminal,
                'phone' => $phone->tag ?? '',
                'room' => $phone->room ?? '',
                'registrar' => $plan->devices[$account->registrar ?? '']->tag ?? '',
                'account' => $account->user ?? '',
                'mac' => (string) $account?->macEntered,
                'voicemail' => $extension->voicemail ? 'yes' : 'no',
                'location' => $extension->location,
            ];
        }

        return $rows;
    }

    /** @return list<array{line: string, what: string, wanted: string, observed: string, verdict: string, at: string, by: string, detail: string}> */
    public static function proof(Proof $proof): array
    {
        $rows = [];
        foreach ($proof->lines as $proved) {
            $rows[] = [
                'line' => (string) $proved->line->title,
                'what' => $proved->line->what,
                'wanted' => $proved->line->wanted->label(),
                'observed' => $proved->observed()?->label() ?? '',
                'verdict' => $proved->verdict->label(),
                'at' => $proved->observation->at ?? '',
                'by' => $proved->observation->by ?? '',
                'detail' => $proved->observation->detail ?? '',
            ];
        }

        return $rows;
    }
}
