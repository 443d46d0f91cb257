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

    /**
     * The ICU pattern of an English sentence; the sentence itself if it has no count.
     *
     * @param array<string, string|int>|null $values only these are counts: brackets in a text from a device or a user mean themselves
     */
    public static function of(string $text, ?array $values = null): string
    {
        if (!str_contains($text, '|')) {
            return $text;
        }

        return (string) preg_replace_callback(self::COUNT, static function (array $found) use ($values): string {
            [$whole, $name, $one, $other] = $found;
            $number = '{'.$name.', number, ::group-off}';

            return null === $values || isset($values[$name]) ? "{{$name}, plural, one {{$number} $one} other {{$number} $other}}" : $whole;
        }, $text);
    }

    /** @param array<string, string|int> $values by name */
    public static function format(string $pattern, array $values, string $locale = 'en'): string
    {
        $pattern = self::of($pattern, $values);
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
