<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** The cells of one row of a list, with the usual ways of writing "not known yet", DHCP and an address with its mask. */
final class RosterCells
{
    /** Where these words are a value. */
    private const WORDS = ['tag', 'kind', 'room', RosterColumns::NOTE];
    private const NOT_KNOWN = ['tbc', 'tbd', 'tba', 'n/a', 'na', '?', '??', 'none yet', 'unknown'];

    /**
     * @param array<string, string> $cells field or setting → text
     *
     * @return array<string, string> the same without placeholders; with `mode` = dhcp for the address "DHCP", and `network`, the network in
     *                               which an address with a mask lies
     */
    public static function read(array $cells): array
    {
        foreach ($cells as $name => $text) {
            if (!\in_array($name, self::WORDS, true) && \in_array(mb_strtolower($text), self::NOT_KNOWN, true)) {
                $cells[$name] = '';
            }
        }
        $address = $cells['address'] ?? '';
        if (0 === strcasecmp($address, 'dhcp')) {
            return ['mode' => 'dhcp', 'address' => ''] + $cells;
        }
        $host = Ipv4::tryFromString(trim(explode('/', $address, 2)[0]));
        $mask = Mask::tryFromString(strstr($address, '/') ?: '');
        if (null === $host || null === $mask) {
            return $cells;
        }

        return ['address' => (string) $host, 'network' => (string) Network::around($host, $mask)] + $cells;
    }

    /**
     * A title, a section or a total: one cell in a table of several columns, or a first cell that says that it adds up.
     *
     * @param list<string> $cells as written
     */
    public static function isHeadingOrTotal(array $cells): bool
    {
        $filled = array_values(array_filter($cells, static fn (string $text): bool => '' !== $text));

        return \count($cells) > 2 && (1 === \count($filled) || 1 === preg_match('/^(sub-?|grand )?totals?:?$|^sum:?$/i', $filled[0] ?? ''));
    }

    /**
     * @param string $text an address, with or without its mask; empty for none
     *
     * @return array{labelAddress?: string, labelMask?: string}
     *
     * @throws Malformed
     */
    public static function labelAddress(string $text): array
    {
        if ('' === $text) {
            return [];
        }
        [$address, $mask] = explode('/', $text, 2) + [1 => ''];

        return ['labelAddress' => (string) Ipv4::fromString(trim($address))]
            + ('' === $mask ? [] : ['labelMask' => (string) Mask::fromString('/'.trim($mask))]);
    }
}
