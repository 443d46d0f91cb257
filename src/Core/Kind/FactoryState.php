<?php

declare(strict_types=1);

namespace Vorhut\Core\Kind;

/** How a device comes out of the box. */
enum FactoryState: string
{
    case Fixed = 'fixed';
    case Dhcp = 'dhcp';
    case DhcpThenFixed = 'dhcp-then-fixed';
    case LinkLocal = 'link-local';
    case None = 'none';

    public function hasFixedAddress(): bool
    {
        return self::Fixed === $this || self::DhcpThenFixed === $this;
    }
}
