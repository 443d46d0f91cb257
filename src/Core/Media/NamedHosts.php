<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;

/** Finds the device of a job that the host of a URL names: by an address, a host name, or a host name with the domain of the job. */
final readonly class NamedHosts
{
    /** @param array<string, Device> $devices by address or lower-case name */
    private function __construct(private array $devices)
    {
    }

    public static function of(Plan $plan, Face $face): self
    {
        $domain = strtolower($plan->job->text('domain'));
        $devices = [];
        foreach ($plan->devices as $device) {
            foreach ($device->nics as $nic) {
                $address = $nic->setting('address')->effective($face);
                if (null !== $address && '' !== $address) {
                    $devices[$address] ??= $device;
                }
            }
            $name = null === $device->kind->setting('hostName') ? '' : strtolower((string) $device->setting('hostName')->effective($face));
            if ('' !== $name) {
                $devices[$name] ??= $device;
                if ('' !== $domain) {
                    $devices[$name.'.'.$domain] ??= $device;
                }
            }
        }

        return new self($devices);
    }

    /** The device that a host names; null if it is not a device of the job, or is the sender itself. */
    public function find(string $host, Device $sender): ?Device
    {
        $host = strtolower($host);
        $found = $this->devices[(string) (Ipv4::tryFromString($host) ?? $host)] ?? null;

        return $found === $sender ? null : $found;
    }
}
