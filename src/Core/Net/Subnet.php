<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** The addresses that share their first bits, of IPv4 or of IPv6. */
interface Subnet extends \Stringable
{
    public function contains(Address $address): bool;

    /** Whether it lies in here and no host may hold it. */
    public function isEdge(Address $address): bool;

    public function equals(self $other): bool;

    /** How many bits are shared. */
    public function prefix(): int;

    /** The key of the first address of the subnet of this length that an address lies in. */
    public static function keyAround(Address $address, int $prefix): int|string;
}
