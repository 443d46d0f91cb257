<?php

declare(strict_types=1);

namespace Vorhut\Core\Text;

/**
 * Text from outside, made safe so that a page or a terminal shows its characters and executes none: control characters (ECMA-48), and the
 * marks that change the direction of text (Unicode UAX #9 §2).
 */
final class VisibleText
{
    /** Tab, line feed and carriage return do no harm. */
    private const HIDDEN = '/[\x00-\x08\x0B\x0C\x0E-\x1F\x7F\x{80}-\x{9F}\x{202A}-\x{202E}\x{2066}-\x{2069}]/u';

    /** The same text with each of them as its code: `[U+202E]`. In text that is not UTF-8, wrong octets are replaced. */
    public static function of(string $text): string
    {
        $text = mb_check_encoding($text, 'UTF-8') ? $text : mb_scrub($text, 'UTF-8');

        return (string) preg_replace_callback(
            self::HIDDEN,
            static fn (array $found): string => \sprintf('[U+%04X]', mb_ord($found[0], 'UTF-8')),
            $text,
        );
    }

    /** The first of them, as `U+202E`; null where there is none. */
    public static function firstHidden(string $text): ?string
    {
        return 1 === preg_match(self::HIDDEN, $text, $found) ? \sprintf('U+%04X', mb_ord($found[0], 'UTF-8')) : null;
    }
}
