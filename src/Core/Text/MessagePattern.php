<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/**
 * Puts values into a sentence with {placeholders}. A count is written `[n device|devices]`: the number n with the singular or the plural.
 * Such a sentence becomes an ICU message pattern, in which a translation has the plural forms of its language; in all others braces and
 * apostrophes mean themselves.
 */
final class MessagePattern
{
    private const COUNT = '/\[(\w+) ([^|\]]+)\|([^\]]+)\]/';

    /** The ICU pattern of an English sentence; the sentence itself if it has no count. */
    public static function of(string $text): string
    {
        return str_contains($text, '|') ? (string) preg_replace(
            self::COUNT,
            '{$1, plural, one {{$1, number, ::group-off} $2} other {{$1, number, ::group-off} $3}}',
            $text,
        ) : $text;
    }

    /** @param array<string, string|int> $values by name */
    public static function format(string $pattern, array $values, string $locale = 'en'): string
    {
        $pattern = self::of($pattern);
        $formatted = str_contains($pattern, ', plural,') ? \MessageFormatter::formatMessage($locale, $pattern, $values) : false;
        if (false !== $formatted) {
            return $formatted;
        }
        $places = [];
        foreach ($values as $name => $value) {
            $places['{'.$name.'}'] = (string) $value;
        }

        return strtr($pattern, $places);
    }
}
