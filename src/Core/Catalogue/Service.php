<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Port;

/** Something a device of a kind answers to. */
final readonly class Service
{
    public function __construct(public string $name, public Port $port, public bool $ownSubnetOnly)
    {
    }
}
