<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Mask;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Proof;

/** The tables of the handover; page, print and CSV are made of the same rows. */
final class Schedules
{
    /** @return list<array{segment: string, vlan: string, tag: string, kind: string, room: string, interface: string, address: string, mask: string, gateway: string, dns: string, mac: string, serial: string, hostName: string, firmware: string, how: string, setBy: string, setAt: string}> by segment, then by address */
    public static function addresses(Plan $plan): array
    {
        $rows = [];
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                if ($nic->passive) {
                    continue;
                }
                $segment = $plan->segments[$nic->segment ?? ''] ?? null;
                $address = $nic->address->asOf(Face::Set) ?? '';
                $mask = Mask::tryFromString($nic->mask->asOf(Face::Set) ?? '');
                $rows[] = [[$segment->name ?? '', ip2long($address) ?: 0, $device->tag], [
                    'segment' => $segment->name ?? '',
                    'vlan' => (string) $segment?->vlan,
                    'tag' => $device->tag,
                    'kind' => $device->kind->name,
                    'room' => $device->room,
                    'interface' => $nic->name,
                    'address' => $address,
                    'mask' => (string) $mask?->dotted(),
                    'gateway' => $nic->gateway->asOf(Face::Set) ?? '',
                    'dns' => $nic->dns->asOf(Face::Set) ?? '',
                    'mac' => (string) $nic->mac,
                    'serial' => $device->serial,
                    'hostName' => $device->value('hostName')->asOf(Face::Seen) ?? '',
                    'firmware' => $device->value('firmware')->asOf(Face::Seen) ?? '',
                    'how' => $nic->reserved ? 'DHCP reservation' : 'static',
                    'setBy' => $nic->address->setBy ?? '',
                    'setAt' => $nic->address->setAt ?? '',
                ]];
            }
        }
        usort($rows, static fn (array $a, array $b): int => $a[0] <=> $b[0]);

        return array_column($rows, 1);
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
