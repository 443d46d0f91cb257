<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\DeviceDefaults;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\FileAddress;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\TagProposal;
use Vorhut\Core\Text\Message;

/** A phone with an unknown MAC requested a file: it is one of the roster whose label was not read yet, or an extra one. */
final class Adoption
{
    /**
     * What it may be, the likeliest first.
     *
     * @param string $agent what it says of itself
     *
     * @return array<string, Device|Kind> `devices/KEY` or `kinds/CODE` → what that is
     */
    public static function choices(Plan $plan, string $agent): array
    {
        $phones = array_filter(
            $plan->devices,
            static fn (Device $one): bool => $one->kind->has(Role::FileClient) && null !== $one->nic() && null === $one->nic()->mac,
        );
        $used = array_count_values(array_map(static fn (Device $one): string => $one->kind->code, $plan->devices));
        $kinds = array_filter($plan->catalogue->kinds(), static fn (Kind $one): bool => $one->has(Role::FileClient));
        $isIt = static fn (Kind $one): int => '' !== $agent && false !== stripos($agent, $one->name) ? 1 : 0;
        uasort($phones, static fn (Device $a, Device $b): int => [$isIt($b->kind), $a->position] <=> [$isIt($a->kind), $b->position]);
        usort($kinds, static fn (Kind $a, Kind $b): int => [$isIt($b), $used[$b->code] ?? 0, $a->code]
            <=> [$isIt($a), $used[$a->code] ?? 0, $b->code]);
        $choices = [];
        foreach ($phones as $one) {
            $choices[$one->record()] = $one;
        }
        foreach ($kinds as $one) {
            $choices['kinds/'.$one->code] = $one;
        }

        return $choices;
    }

    /**
     * @param string $as      one of choices()
     * @param string $address from where it asked
     *
     * @throws Malformed
     */
    public static function change(Plan $plan, Mac $mac, string $as, string $address): Change
    {
        foreach ($plan->nics as $nic) {
            if (true === $nic->mac?->equals($mac)) {
                $at = ['mac' => $mac, 'tag' => $plan->devices[$nic->device]->tag ?? ''];
                throw Malformed::because('{mac} stands at {tag} by now.', $at);
            }
        }
        $chosen = self::choices($plan, '')[$as] ?? throw new Malformed('Choose what it is.');
        if ($chosen instanceof Device) {
            return new Change(new Message('{mac} is {tag}.', ['mac' => $mac, 'tag' => $chosen->tag]), [
                Edit::put('nics', $chosen->nic()->key ?? '', 'mac', null, (string) $mac),
            ]);
        }
        $from = Ipv4::tryFromString($address);
        $tag = TagProposal::next($plan, $chosen);
        $device = ['key' => $plan->freeKey('devices', strtolower($tag)), 'tag' => $tag, 'kind' => $chosen->code];
        $segment = null === $from ? null : $plan->segmentAround($from)?->key;

        return new Change(new Message('{mac} is one more phone, {tag}.', ['mac' => $mac, 'tag' => $tag]), [
            Edit::add('devices', $device),
            ...array_map(
                static fn (array $nic): Edit => Edit::add('nics', $nic),
                DeviceDefaults::ports($chosen, $device, (string) $mac, $segment),
            ),
            Edit::setting('devices/'.$device['key'].'#provisioning', Face::Planned, null, FileAddress::HERE),
        ]);
    }
}
