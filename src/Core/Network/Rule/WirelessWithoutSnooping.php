<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Text\Message;

/** Devices on a wireless segment are set to a multicast address, and its switches do not snoop IGMP. */
final class WirelessWithoutSnooping implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $found = [];
        foreach ($context->plan->devices as $device) {
            $segment = $context->plan->segmentOf($device);
            if (null === $segment || !$segment->wireless || false !== $segment->snooping || isset($found[$segment->key])) {
                continue;
            }
            $group = self::groupOf($device);
            if (null !== $group) {
                $found[$segment->key] = true;
                yield self::finding($segment, $device, $group);
            }
        }
    }

    /** The first multicast address that a setting of a device holds. */
    private static function groupOf(Device $device): ?string
    {
        foreach (array_keys($device->kind->deviceSlots) as $slot) {
            $value = $device->setting($slot)->effective(Face::Set) ?? '';
            $address = Ipv4::tryFromString($value);
            if (null !== $address && $address->isMulticast()) {
                return $value;
            }
        }

        return null;
    }

    private static function finding(Segment $segment, Device $device, string $group): Finding
    {
        $at = ['segment' => $segment->name, 'tag' => $device->tag, 'group' => $group];

        return new Finding(
            'wireless-without-snooping',
            Severity::Risk,
            Stage::Networks,
            ['segments/'.$segment->key, $device->record()],
            new Message('{tag} on {segment} uses the multicast address {group}, but {segment} has no IGMP snooping.', $at),
            new Message('Every access point transmits each of these packets at the lowest rate, and takes air time from calls.'),
            new Message('Turn on IGMP snooping for {segment}.', $at),
        );
    }
}
