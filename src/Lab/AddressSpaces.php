<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Plan;
use Vorhut\Socket\Loopback;

/**
 * Which part of 127.0.0.0/8 each job has in the lab. Jobs often use the same private subnets, and every kind has the same factory
 * address: each job gets a shift of the second octet that keeps its addresses apart from those of the others.
 */
final class AddressSpaces
{
    /** Devices without a lease give themselves an address there (RFC 3927). */
    private const LINK_LOCAL = '169.254.1.1';

    /** @var array<int, array<int, true>> job → the second octets that it uses on loopback */
    private array $taken = [];

    /** @param int $base the lab's own shift, which other labs on this machine do not have */
    public function __construct(private readonly int $base)
    {
    }

    /**
     * The shift of a job: the one that it has where it still fits, otherwise the smallest that does.
     *
     * @return int|null null where the addresses of the other jobs leave no room
     */
    public function assign(int $job, Plan $plan, int $current): ?int
    {
        unset($this->taken[$job]);
        $taken = array_replace([], ...$this->taken);
        $addresses = self::addressesOf($plan);
        foreach ([$current, ...range(0, 255)] as $shift) {
            $wanted = $this->octets($addresses, $shift);
            if (null !== $wanted && [] === array_intersect_key($wanted, $taken)) {
                $this->taken[$job] = $wanted;

                return $shift;
            }
        }

        return null;
    }

    /**
     * @param list<Ipv4> $addresses
     *
     * @return array<int, true>|null second octets on loopback; null where one would be in 127.0.0.0/24, where the machine's own
     *                               services listen
     */
    private function octets(array $addresses, int $shift): ?array
    {
        $loopback = new Loopback($this->base + $shift);
        $octets = [];
        foreach ($addresses as $address) {
            $there = $loopback->of($address)->number;
            if (0 === ($there >> 8 & 0xFFFF)) {
                return null;
            }
            $octets[$there >> 16 & 0xFF] = true;
        }

        return $octets;
    }

    public function release(int $job): void
    {
        unset($this->taken[$job]);
    }

    /** @return list<Ipv4> of each /24 in which the job names an address, or a kind of it has one, the first */
    private static function addressesOf(Plan $plan): array
    {
        $found = [];
        $note = static function (?Ipv4 $address) use (&$found): void {
            if (null !== $address) {
                $found[$address->number >> 8] ??= $address;
            }
        };
        $note(Ipv4::fromString(self::LINK_LOCAL));
        foreach ($plan->segments as $segment) {
            $note($segment->network->address);
            $note($segment->network->broadcast());
        }
        foreach ($plan->devices as $device) {
            foreach ($device->kind->factoryStates as $factory) {
                $note($factory->address);
            }
        }
        foreach (['job', 'segments', 'nics', 'routerPorts', 'translations', 'trunks', 'settings'] as $section) {
            foreach ('job' === $section ? [$plan->jobRow()] : $plan->rows($section) as $row) {
                foreach ($row as $value) {
                    $text = \is_string($value) ? $value : '';
                    $note(Ipv4::tryFromString($text) ?? Network::tryFromString($text)?->address);
                }
            }
        }

        return array_values($found);
    }
}
