<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;

/** The segment that a text or an address identifies. */
final class SegmentName
{
    /** @param string $text its key, name, network or VLAN */
    public static function find(Plan $plan, string $text): ?Segment
    {
        foreach ($plan->segments as $segment) {
            $names = [$segment->key, (string) $segment->network, null === $segment->vlan ? '' : (string) $segment->vlan];
            if ('' !== $text && (\in_array($text, $names, true) || 0 === strcasecmp($segment->name, $text))) {
                return $segment;
            }
        }

        return null;
    }

    /** The only segment that contains the address; null if there is none, or more than one. */
    public static function around(Plan $plan, string $address): ?Segment
    {
        $host = Ipv4::tryFromString($address);
        $found = null === $host ? [] : array_filter($plan->segments, static fn (Segment $one): bool => $one->network->contains($host));

        return 1 === \count($found) ? reset($found) : null;
    }
}
