<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;

/** A static route of a router; 0.0.0.0/0 is the default route. */
final readonly class StaticRoute
{
    public function __construct(public string $key, public string $router, public Network $destination, public Ipv4 $via)
    {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('router'),
            Network::fromString($row->text('destination')),
            Ipv4::fromString($row->text('via')),
        );
    }
}
