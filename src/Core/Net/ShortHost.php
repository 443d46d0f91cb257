<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** The last octet of an address where its network is known: `.5` in 10.64.20.0/24 is 10.64.20.5. */
final class ShortHost
{
    /** The shortest prefix with which the last octet identifies a host. */
    private const SHORT_FROM = 24;

    public static function is(string $text): bool
    {
        return 1 === preg_match('/^\.\d{1,3}$/D', $text);
    }

    /** @throws Malformed if the network has more than 256 addresses, or does not contain the host */
    public static function in(Network $network, string $text): Ipv4
    {
        $base = (string) $network->address;
        $host = Ipv4::tryFromString(substr($base, 0, (int) strrpos($base, '.')).$text);
        if ($network->mask->prefix < self::SHORT_FROM || null === $host || !$network->contains($host)) {
            throw Malformed::because('{text} is not a host of {network}.', ['text' => $text, 'network' => (string) $network]);
        }

        return $host;
    }
}
