<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Group;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;

/** Groups to give: of the organisation's own (RFC 2365 §6.2), none whose MAC another of the job or a well-known one has. */
final class FreeGroup
{
    private const FIRST = '239.192.1.1';
    private const LAST = '239.195.255.254';

    public static function next(Plan $plan): ?Group
    {
        $taken = [];
        foreach (MulticastGroup::all($plan) as $one) {
            $taken[$one->group->mac()] = true;
        }
        $last = Ipv4::fromString(self::LAST)->number;
        for ($number = Ipv4::fromString(self::FIRST)->number; $number <= $last; ++$number) {
            $group = Group::fromString((string) Ipv4::fromNumber($number));
            if (!isset($taken[$group->mac()]) && null === self::wellKnownTwin($group)) {
                return $group;
            }
        }

        return null;
    }

    /** A group with the same MAC that every switch floods or every host listens to: 224.0.0.0/24, or one of discovery (RFC 5771 §4). */
    public static function wellKnownTwin(Group $group): ?Group
    {
        foreach ($group->twins() as $twin) {
            if ('link' === $twin->scope() || \in_array((string) $twin, ['224.0.1.129', '239.255.255.250', '239.255.255.253'], true)) {
                return $twin;
            }
        }

        return null;
    }
}
