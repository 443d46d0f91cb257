<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** What a packet bears and a host holds: an address of IPv4 or of IPv6. Two of different kinds are never equal. */
interface Address extends \Stringable
{
    /** Lookup key: the same for equal addresses, different for all others of its kind. */
    public function key(): int|string;

    public function equals(self $other): bool;

    /** One that holds on its own wire only. */
    public function isLinkLocal(): bool;

    /** An address that is not routed on the public network. */
    public function isPrivate(): bool;

    /** @return string|null why no host may hold it, a whole sentence */
    public function whyNotAHost(): ?string;
}
