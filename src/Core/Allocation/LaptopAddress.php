<?php

declare(strict_types=1);

namespace Vorhut\Core\Allocation;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Plan;

/** The address that the laptop on the bench takes in a factory network. */
final class LaptopAddress
{
    /**
     * From the upper end, because factory addresses sit at the lower one.
     *
     * @param array<array-key, true> $taken addresses, as text, that others hold there beside those of the plan
     */
    public static function in(Plan $plan, Network $network, array $taken = []): ?Ipv4
    {
        foreach ($plan->nics as $nic) {
            $taken[$nic->setting('address')->planned ?? ''] = true;
        }
        foreach (NamedAddresses::all($plan) as $address) {
            $taken[(string) $address] = true;
        }
        for ($number = $network->lastHost()->number; $number >= $network->firstHost()->number; --$number) {
            $address = Ipv4::fromNumber($number);
            if (!isset($taken[(string) $address])) {
                return $address;
            }
        }

        return null;
    }
}
