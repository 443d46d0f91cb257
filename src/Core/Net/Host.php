<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** Where somebody is asked: by name, or by address where no name is given. */
final class Host
{
    /** @throws Malformed */
    public static function fromString(string $text): HostName|Ipv4
    {
        return Ipv4::tryFromString(trim($text)) ?? HostName::fromString($text);
    }
}
