<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;

/** The values of a series: `6201-6208` and `.101-.108` in full, or counted up from the first one: `CAM-01`. */
final class CountedUp
{
    /**
     * @return non-empty-list<string> as many as the range has; counted up, as many as are wanted
     *
     * @throws Malformed if the value does not end in a number
     */
    public static function from(string $text, int $count): array
    {
        if (1 === $count) {
            return [$text];
        }
        if (1 === preg_match('/^(\D*(?:\d+\.){0,3})(\d{1,8})\s*[-–]\s*\S*?(\d{1,8})$/uD', $text, $range)) {
            return self::series($range[1], $range[2], max(1, min(1000, (int) $range[3] - (int) $range[2] + 1)));
        }
        if (1 !== preg_match('/^(.*?)(\d{1,8})$/D', $text, $parts)) {
            throw Malformed::because('"{text}" does not end in a number: [n value|values] are counted up from it.', [
                'text' => $text,
                'n' => $count,
            ]);
        }

        return self::series($parts[1], $parts[2], $count);
    }

    /** @return non-empty-list<string> with the leading zeros of the first number */
    private static function series(string $prefix, string $first, int $count): array
    {
        $values = [$prefix.$first];
        for ($n = 1; $n < $count; ++$n) {
            $values[] = $prefix.str_pad((string) ((int) $first + $n), \strlen($first), '0', \STR_PAD_LEFT);
        }

        return $values;
    }
}
