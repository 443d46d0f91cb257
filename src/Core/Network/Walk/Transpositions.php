<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Ipv4;

/** A mistake of typing: two neighbours were swapped. */
final class Transpositions
{
    /**
     * What an address may have been before two neighbouring digits, or two octets, were swapped.
     *
     * @return list<Ipv4>
     */
    public static function of(Ipv4 $address): array
    {
        $text = (string) $address;
        $found = [];
        for ($i = 0; $i < \strlen($text) - 1; ++$i) {
            $other = $text;
            [$other[$i], $other[$i + 1]] = [$text[$i + 1], $text[$i]];
            $found[$other] = Ipv4::tryFromString($other);
        }
        $octets = explode('.', $text);
        for ($i = 0; $i < 3; ++$i) {
            $other = $octets;
            [$other[$i], $other[$i + 1]] = [$octets[$i + 1], $octets[$i]];
            $found[implode('.', $other)] = Ipv4::tryFromString(implode('.', $other));
        }
        unset($found[$text]);

        return array_values(array_filter($found));
    }
}
