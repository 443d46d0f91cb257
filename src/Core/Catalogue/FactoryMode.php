<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** How a device gets its first address. */
enum FactoryMode: string
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
