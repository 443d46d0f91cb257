<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;

/** What an outpost stands on in a network: a network adapter of its machine, and the address that it holds there. */
final readonly class Adapter
{
    public function __construct(public string $name, public Ipv4 $address)
    {
    }
}
