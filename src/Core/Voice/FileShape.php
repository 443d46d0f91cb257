<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

/** How a phone reads its file. */
enum FileShape: string
{
    case Xml = 'xml';
    /** Lines `key=value`. */
    case Ini = 'ini';
    case Json = 'json';

    /** What the names of files of phones end with, for a pattern. */
    public const ENDINGS = 'xml|ini|json';

    /** @param string|null $template as the kind names it: `phone.json` */
    public static function ofTemplate(?string $template): self
    {
        return self::tryFrom(strtolower(pathinfo($template ?? '', \PATHINFO_EXTENSION))) ?? self::Xml;
    }

    public static function ofBody(string $body): self
    {
        return match (substr(ltrim($body), 0, 1)) {
            '<' => self::Xml,
            '{' => self::Json,
            default => self::Ini,
        };
    }

    public function contentType(): string
    {
        return match ($this) {
            self::Xml => 'application/xml',
            self::Json => 'application/json',
            self::Ini => 'text/plain; charset=UTF-8',
        };
    }

    /** A file with its secrets hidden, for who only looks at it. */
    public static function mask(string $body): string
    {
        // What ends a value is told by the shape: in two of them a quote may stand inside, behind a backslash.
        $value = self::Xml === self::ofBody($body) ? '"[^"]+"' : '"(?:[^"\\\\]|\\\\.)+"';

        return (string) preg_replace('/((?:secret|password)"?\s*[=:]\s*)'.$value.'/', '$1"······"', $body);
    }

    /** A value as it may stand between the quotes of this shape. */
    public function escape(string $value): string
    {
        return match ($this) {
            // Other controls have no place in XML 1.0 (§2.2), and a line break in an attribute is read as a blank (§3.3.3).
            self::Xml => strtr(
                htmlspecialchars(
                    preg_replace('/[\x00-\x08\x0B\x0C\x0E-\x1F]/', ' ', $value) ?? '',
                    \ENT_QUOTES | \ENT_XML1 | \ENT_SUBSTITUTE,
                    'UTF-8',
                ),
                ["\n" => '&#10;', "\r" => '&#13;', "\t" => '&#9;'],
            ),
            self::Json => substr(
                json_encode($value, \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_THROW_ON_ERROR),
                1,
                -1,
            ),
            // A line break would start a new line, and with it a setting that was not planned.
            self::Ini => addcslashes(preg_replace('/[\x00-\x1F\x7F]+/', ' ', $value) ?? '', '\\"'),
        };
    }
}
