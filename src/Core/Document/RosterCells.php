<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

/** The cells of one row of a list, with the usual ways of writing "not known yet", DHCP and an address with its mask. */
final class RosterCells
{
    private const NOT_KNOWN = ['tbc', 'tbd', 'tba', 'n/a', 'na', '?', '??', 'none yet', 'unknown'];

    /**
     * @param array<string, string> $cells field or setting → text
     *
     * @return array<string, string> the same without placeholders; `mode` is dhcp where that stands in place of an address
     */
    public static function read(array $cells): array
    {
        foreach ($cells as $name => $text) {
            if (\in_array(mb_strtolower($text), self::NOT_KNOWN, true)) {
                $cells[$name] = '';
            }
        }
        $address = $cells['address'] ?? '';
        if (0 === strcasecmp($address, 'dhcp')) {
            return ['mode' => 'dhcp', 'address' => ''] + $cells;
        }
        if (1 === preg_match('#^(\S+)\s*/\s*\d{1,2}$#D', $address, $found)) {
            $cells['address'] = $found[1];
        }

        return $cells;
    }

    /**
     * A title, a section or a total: one cell in a table of several columns, or a first cell that says that it adds up.
     *
     * @param list<string> $cells as written
     */
    public static function isHeadingOrTotal(array $cells): bool
    {
        $filled = array_values(array_filter($cells, static fn (string $text): bool => '' !== $text));

        return \count($cells) > 2 && (1 === \count($filled) || 1 === preg_match('/^(sub-?)?totals?\b|^sum\b/i', $filled[0] ?? ''));
    }
}
