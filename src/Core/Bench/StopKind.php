<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/** How the laptop meets the devices of a stop. */
enum StopKind: string
{
    /** At factory addresses of a network that the laptop is set to. */
    case Fixed = 'fixed';
    /** By DHCP, from the laptop or the segment's own server. */
    case Dhcp = 'dhcp';
    /** At addresses that the devices assign themselves (RFC 3927). */
    case LinkLocal = 'link-local';
    /** Without a laptop. */
    case ByHand = 'by-hand';
}
