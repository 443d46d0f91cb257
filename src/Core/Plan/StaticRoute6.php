<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Network6;

/** A static route of a router for IPv6; ::/0 is the default route. */
final readonly class StaticRoute6
{
    public function __construct(public string $key, public string $router, public Network6 $destination, public Ipv6 $via)
    {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('router'),
            Network6::fromString($row->text('destination')),
            Ipv6::fromString($row->text('via')),
        );
    }
}
