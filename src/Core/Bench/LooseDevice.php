<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Allocation\Allocation;
use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\TagProposal;
use Vorhut\Core\Text\Message;

/** One device in hand, without a plan: the change that adds it with a proposed tag, its segment and an address. */
final readonly class LooseDevice
{
    private function __construct(public string $tag, public string $key, public Change $change)
    {
    }

    /**
     * @param string $label MAC or serial number, as typed or scanned; empty if it is not read yet
     *
     * @throws Malformed if the MAC belongs to another device of the job
     */
    public static function of(Plan $plan, Kind $kind, string $label, KnownNetwork $known): self
    {
        $label = trim($label);
        $mac = Mac::tryFromString($label);
        if (null !== $mac) {
            self::checkMac($plan, $mac);
        }
        $tag = TagProposal::next($plan, $kind);
        $device = [
            'key' => $plan->freeKey('devices', strtolower($tag)),
            'tag' => $tag,
            'kind' => $kind->code,
            'serial' => null === $mac && '' !== $label ? $label : null,
        ];
        $segment = self::segment($plan, $known);
        $edits = null === $segment || isset($plan->segments[$segment['key']]) ? [] : [Edit::add('segments', $segment)];
        $edits[] = Edit::add('devices', $device);
        foreach (DeviceDefaults::ports($kind, $device, null === $mac ? null : (string) $mac, $segment['key'] ?? null) as $nic) {
            $edits[] = Edit::add('nics', $nic);
        }
        $first = $kind->activePorts()[0] ?? null;
        if (null !== $known->address && null !== $first) {
            $edits[] = Edit::setting('nics/'.$device['key'].'.'.$first->name.'#address', Face::Planned, null, (string) $known->address);
        }
        $why = new Message('{tag} added for a single run sheet.', ['tag' => $tag]);
        $allocated = Allocation::of($plan->with(new Change($why, $edits)))->change();
        $own = array_filter($allocated->edits, static fn (Edit $edit): bool => str_starts_with($edit->key, 'nics/'.$device['key'].'.'));

        return new self($tag, $device['key'], new Change($why, [...$edits, ...array_values($own)]));
    }

    /** @throws Malformed */
    private static function checkMac(Plan $plan, Mac $mac): void
    {
        foreach ($plan->nics as $nic) {
            if (true === $nic->mac?->equals($mac)) {
                throw Malformed::because('{mac} is the MAC of {tag} already.', [
                    'mac' => $mac,
                    'tag' => $plan->devices[$nic->device]->tag ?? '',
                ]);
            }
        }
    }

    /** @return array{key: string, name: string, network: string, gateway: string|null}|null an existing segment, or a new one */
    private static function segment(Plan $plan, KnownNetwork $known): ?array
    {
        if (null === $known->network) {
            return null;
        }
        $network = (string) $known->network;
        $inNetwork = static fn (Segment $one): bool => (string) $one->network === $network;
        $same = array_values(array_filter($plan->segments, $inNetwork))[0] ?? null;
        $name = $known->isIsolated ? 'Isolated '.$network : $network;

        return [
            'key' => $same->key ?? $plan->freeKey('segments', $name),
            'name' => $name,
            'network' => $network,
            'gateway' => $known->isIsolated ? 'none' : null,
        ];
    }
}
