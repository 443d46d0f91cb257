<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/** The interface at which something is decided about a packet, as a hop names it. */
final readonly class Spot
{
    /** @param string $ref `nics/KEY`, `routerPorts/KEY`, `outposts/SEGMENT`, or '' where no interface is known */
    public function __construct(public string $ref, public string|Message $label, public string $segment)
    {
    }

    public static function port(RouterPort $port, string|Message $router): self
    {
        return new self('routerPorts/'.$port->key, $router, $port->segment);
    }
}
