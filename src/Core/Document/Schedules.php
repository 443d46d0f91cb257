<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;

/**
 * The tables of the handover; page, print and CSV are made of the same rows.
 *
 * @phpstan-type Address array{
 *     segment: string, vlan: string, tag: string, kind: string, room: string, interface: string, address: string,
 *     mask: string, gateway: string, dns: string, mac: string, serial: string, hostName: string, firmware: string,
 *     how: string, setBy: string, setAt: string,
 * }
 */
final class Schedules
{
    private const ROSTER = ['tag', 'kind', 'room', 'segment', 'mac', 'serial'];

    /** @return list<Address> by segment, then by address */
    public static function addresses(Plan $plan): array
    {
        return array_merge(...array_values(self::addressesBySegment($plan)));
    }

    /** @return array<string, list<Address>> segment key ('' for rows without a segment) → its rows by address, segments by name */
    public static function addressesBySegment(Plan $plan): array
    {
        return array_map(static fn (string $key): array => self::addressesOn($plan, $key), self::segments($plan));
    }

    /** @return array<string, string> the keys of segments with devices, by name; '' last if a device has no segment */
    public static function segments(Plan $plan): array
    {
        $keys = [];
        foreach ($plan->devices as $device) {
            foreach ($device->activeNics() as $nic) {
                $key = isset($plan->segments[$nic->segment ?? '']) ? (string) $nic->segment : '';
                $keys[$key] = $key;
            }
        }
        foreach ($plan->routerPorts as $port) {
            $keys[$port->segment] = $port->segment;
        }
        uksort($keys, static fn (string $a, string $b): int => ['' === $a, $plan->segments[$a]->name ?? '', $a]
            <=> ['' === $b, $plan->segments[$b]->name ?? '', $b]);

        return $keys;
    }

    /**
     * @param string $segment its key; '' for rows without a segment
     *
     * @return list<Address> by address
     */
    public static function addressesOn(Plan $plan, string $segment): array
    {
        $rows = [];
        foreach ('' === $segment ? $plan->nics : $plan->nicsOn($segment) as $nic) {
            $device = $plan->devices[$nic->device] ?? null;
            if (null === $device || $nic->passive || ('' === $segment && !self::belongsNowhere($plan, $device, $nic))) {
                continue;
            }
            $rows[] = self::ofNic($plan, $device, $nic);
        }
        foreach ($plan->routerPortsOn($segment) as $port) {
            $rows[] = self::ofRouterPort($plan, $port);
        }
        usort($rows, static fn (array $a, array $b): int => [Ipv4::tryFromString($a['address'])->number ?? 0, $a['tag']]
            <=> [Ipv4::tryFromString($b['address'])->number ?? 0, $b['tag']]);

        return $rows;
    }

    /** On no segment; a further port that is not plugged in and has no address is not worth a line. */
    private static function belongsNowhere(Plan $plan, Device $device, Nic $nic): bool
    {
        return !isset($plan->segments[$nic->segment ?? ''])
            && ($nic->key === $device->nic()?->key || null !== $nic->setting('address')->effective(Face::Set));
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
            'address' => $nic->setting('address')->effective(Face::Set) ?? '',
            'mask' => (string) Mask::tryFromString($nic->setting('mask')->effective(Face::Set) ?? '')?->toDotted(),
            'gateway' => $nic->setting('gateway')->effective(Face::Set) ?? '',
            'dns' => $nic->setting('dns')->effective(Face::Set) ?? '',
            'mac' => (string) $nic->mac,
            'serial' => $device->serial,
            'hostName' => $device->setting('hostName')->effective(Face::Seen) ?? '',
            'firmware' => $device->setting('firmware')->effective(Face::Seen) ?? '',
            'how' => match (true) {
                $nic->reserved => 'DHCP reservation',
                $nic->pooled => 'DHCP pool',
                default => 'static',
            },
            'setBy' => $nic->setting('address')->setBy ?? '',
            'setAt' => $nic->setting('address')->setAt ?? '',
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
            'mask' => $port->mask->toDotted(),
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

    /**
     * @return list<array{
     *     number: string, name: string, terminal: string, phone: string, room: string, registrar: string,
     *     account: string, mac: string, voicemail: string, location: string,
     * }>
     */
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
                'phone' => implode(' + ', array_map(
                    static fn (string $key): string => $plan->devices[$key]->tag ?? '',
                    $plan->ringing($extension),
                )),
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

    /**
     * Every setting that was planned, set or read back, one per row.
     *
     * @return list<array{
     *     tag: string, port: string, setting: string, unit: string, planned: string, set: string, setBy: string,
     *     setAt: string, seen: string, seenAt: string,
     * }>
     */
    public static function settings(Plan $plan): array
    {
        $rows = [];
        foreach ($plan->devices as $device) {
            foreach ($plan->settings()->slots($device) as $slot) {
                $value = $slot->value;
                if (null !== $slot->setting->secret || ($value->isEmpty() && null === $value->planned)) {
                    continue;
                }
                $text = static fn (?string $face): string => match (true) {
                    null === $face => '',
                    '' === $face => '-',
                    default => $plan->settings()->show($slot->setting, $face),
                };
                $rows[] = [
                    'tag' => $device->tag,
                    'port' => $slot->port ?? '',
                    'setting' => $slot->ref->slot,
                    'unit' => $slot->setting->unit,
                    'planned' => $text($value->planned),
                    'set' => $text($value->set),
                    'setBy' => $value->setBy ?? '',
                    'setAt' => $value->setAt ?? '',
                    'seen' => $text($value->seen),
                    'seenAt' => $value->seenAt ?? '',
                ];
            }
        }

        return $rows;
    }

    /**
     * The roster with every setting that the plan itself names, under headings that a paste takes back.
     *
     * @return list<array<string, string>>
     */
    public static function roster(Plan $plan): array
    {
        $rows = [];
        $columns = [];
        foreach ($plan->devices as $device) {
            $nic = $device->nic();
            $row = [
                'tag' => $device->tag,
                'kind' => $device->kind->name,
                'room' => $device->room,
                'segment' => $plan->segments[$nic->segment ?? '']->name ?? '',
                'mac' => (string) $nic?->mac,
                'serial' => $device->serial,
            ];
            foreach ($plan->settings()->slots($device) as $slot) {
                $own = $slot->value->own(Face::Planned);
                if (null === $own || null !== $slot->setting->secret) {
                    continue;
                }
                $name = null !== $slot->port && $slot->port === $nic?->name ? $slot->setting->name : $slot->local;
                $row[$name] = '' === $own ? '-' : $plan->settings()->show($slot->setting, $own);
                $columns[$name] = '';
            }
            $rows[] = $row;
        }

        // Every row has every column, in one order.
        return array_map(static fn (array $row): array => array_merge(array_fill_keys(self::ROSTER, ''), $columns, $row), $rows);
    }

    /**
     * @return list<array{
     *     test: string, what: string, wanted: string, observed: string, verdict: string, at: string, by: string,
     *     detail: string, place: string, rehearsed: string,
     * }>
     */
    public static function proof(Proof $proof): array
    {
        $rows = [];
        foreach ($proof->results as $result) {
            $rows[] = [
                'test' => (string) $result->test->title,
                'what' => $result->test->kind->value,
                'wanted' => $result->test->wanted->label(),
                'observed' => $result->observedOutcome()?->label() ?? '',
                'verdict' => $result->verdict->label(),
                'at' => $result->observation->at ?? '',
                'by' => $result->observation->by ?? '',
                'detail' => (string) $result->observation?->detail,
                'place' => (string) $result->observation?->place(),
                'rehearsed' => $result->rehearsal?->verdict->label() ?? '',
            ];
        }

        return $rows;
    }
}
