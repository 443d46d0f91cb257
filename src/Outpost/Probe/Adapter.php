<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;

/** An outpost's connection to a network: a network adapter of its machine, and the address there. */
final readonly class Adapter
{
    public function __construct(public string $name, public Ipv4 $address)
    {
    }
}
