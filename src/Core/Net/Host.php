<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** A host to contact: by name, or by address if it has no name. */
final class Host
{
    /** @throws Malformed */
    public static function fromString(string $text): HostName|Ipv4
    {
        return Ipv4::tryFromString(trim($text)) ?? HostName::fromString($text);
    }
}
