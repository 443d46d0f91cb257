<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\FactoryMode;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** Where a device answers as it comes, and how the laptop is set to reach it there. */
final readonly class FactoryReach
{
    private function __construct(public Ipv4 $address, public BenchSegment $bench, public int $stop)
    {
    }

    /** @return self|null null for a device without a fixed factory address, or one that no stop of the bench reaches */
    public static function of(Plan $plan, Device $device): ?self
    {
        $address = FactoryMode::Dhcp === $device->factory->mode ? null : $device->factory->address;
        $stop = null === $address ? null : Queue::of($plan)->stopOf($device->key);
        $bench = null === $stop ? null : BenchSegment::ofStop($stop);

        return null === $address || null === $stop || null === $bench || !$bench->network->contains($address)
            ? null
            : new self($address, $bench, $stop->number);
    }
}
