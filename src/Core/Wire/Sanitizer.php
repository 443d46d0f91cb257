<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire;

/**
 * A device's text about itself, made safe to store and show: UTF-8, without control characters and marks that change the direction of text,
 * in one line, and at a readable length.
 */
final class Sanitizer
{
    public const LONGEST = 190;
    /** Control characters of ASCII and Latin-1, and those of Unicode that order or hide the text after them. */
    private const UNSEEN = '/[\x00-\x1F\x7F\x{80}-\x{9F}\x{200B}-\x{200F}\x{2028}-\x{202E}\x{2060}-\x{2069}\x{FEFF}\x{FFF9}-\x{FFFB}]+/u';

    public static function text(string $bytes, int $most = self::LONGEST): string
    {
        // More than is kept is not even looked at; a sign of UTF-8 has at most four bytes.
        $bytes = substr($bytes, 0, 4 * $most + 4);
        $text = self::isWhole($bytes) ? mb_scrub($bytes, 'UTF-8') : mb_convert_encoding($bytes, 'UTF-8', 'ISO-8859-1');
        $text = trim((string) preg_replace('/\s+/u', ' ', (string) preg_replace(self::UNSEEN, ' ', (string) $text)));

        return mb_strlen($text) > $most ? mb_substr($text, 0, $most - 1).'…' : $text;
    }

    /** As text(), with its blanks kept: a name that is compared with another is not changed. */
    public static function name(string $bytes, int $most = self::LONGEST): string
    {
        $bytes = substr($bytes, 0, 4 * $most + 4);
        $text = self::isWhole($bytes) ? mb_scrub($bytes, 'UTF-8') : mb_convert_encoding($bytes, 'UTF-8', 'ISO-8859-1');

        return mb_substr((string) preg_replace(self::UNSEEN, ' ', (string) $text), 0, $most);
    }

    /** The same for all texts that a list holds, however deep. */
    public static function all(mixed $value, int $most): mixed
    {
        if (\is_string($value)) {
            return self::text($value, $most);
        }
        if (\is_array($value)) {
            foreach ($value as $key => $one) {
                $value[$key] = self::all($one, $most);
            }
        }

        return $value;
    }

    /** UTF-8, but for a sign that was cut off at the end. */
    private static function isWhole(string $bytes): bool
    {
        for ($cut = 0; $cut < 4; ++$cut) {
            if (mb_check_encoding(substr($bytes, 0, \strlen($bytes) - $cut), 'UTF-8')) {
                return true;
            }
        }

        return false;
    }
}
