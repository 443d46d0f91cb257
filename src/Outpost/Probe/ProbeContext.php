<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** Where a probe stands, and the means that it has there. */
final readonly class ProbeContext
{
    /** @param \Closure(string): ?string $secretOf account key, or `devices/KEY` with or without `#PURPOSE` → secret */
    public function __construct(
        public Plan $plan,
        public VantagePoint $place,
        public NetworkAccess $access,
        public Http $http,
        public RangeSearch $search,
        private \Closure $secretOf,
    ) {
    }

    public function secretOf(string $owner): ?string
    {
        return ($this->secretOf)($owner);
    }

    /** The address of a device, as it was set, else planned. */
    public static function addressOf(?Device $device): ?Ipv4
    {
        return $device?->nic()?->addressAsSet();
    }

    /** The same, where a probe may ask it: nothing is sent outside the networks of the job. */
    public function target(?Device $device): ?Ipv4
    {
        $address = self::addressOf($device);

        return null === $address || !$this->place->mayAsk($address) ? null : $address;
    }
}
