<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;

/**
 * A table as text, as a spreadsheet puts it on the clipboard (tabs) or into a file (RFC 4180, with commas or semicolons): a quoted cell may
 * hold separators, quotes and line breaks; a quote inside a cell that does not begin with one is a quote.
 */
final readonly class Table
{
    private const COLUMNS = 200;

    /** @param list<array{line: int, text: string, cells: list<string>}> $rows line: where it begins, from 1; text: as it was written */
    private function __construct(public array $rows)
    {
    }

    /** @throws Malformed where a line has more columns than any table that a person keeps */
    public static function fromText(string $text): self
    {
        $text = str_replace(["\r\n", "\r"], "\n", $text);
        $first = explode("\n", ltrim($text), 2)[0];
        $separator = match (true) {
            str_contains($first, "\t") => "\t",
            str_contains($first, ';') => ';',
            default => ',',
        };
        $rows = [];
        $line = 1;
        for ($at = 0, $length = \strlen($text); $at < $length;) {
            $start = $at;
            [$cells, $at] = self::row($text, $at, $separator);
            if (\count($cells) > self::COLUMNS) {
                throw Malformed::because('Line {n} has more than [most column|columns]. Nothing was taken.', [
                    'n' => $line,
                    'most' => self::COLUMNS,
                ]);
            }
            $raw = rtrim(substr($text, $start, $at - $start), "\n");
            if ('' !== trim(implode('', $cells))) {
                $rows[] = ['line' => $line, 'text' => $raw, 'cells' => $cells];
            }
            $line += substr_count($text, "\n", $start, $at - $start);
        }

        return new self($rows);
    }

    /** @return array{list<string>, int} the cells, and where the next row begins */
    private static function row(string $text, int $at, string $separator): array
    {
        $cells = [];
        $length = \strlen($text);
        while (true) {
            if ('"' === ($text[$at] ?? '') && null !== $end = self::closing($text, $at)) {
                $cell = str_replace('""', '"', substr($text, $at + 1, $end - $at - 1));
                $at = $end + 1;
                $rest = strcspn($text, $separator."\n", $at);
                $cell .= substr($text, $at, $rest);
            } else {
                $rest = strcspn($text, $separator."\n", $at);
                $cell = substr($text, $at, $rest);
            }
            $at += $rest;
            $cells[] = trim($cell);
            if ($at >= $length || "\n" === $text[$at]) {
                return [$cells, min($at + 1, $length)];
            }
            ++$at;
        }
    }

    /** Position of the quote that closes this cell; null if there is none: then it is not a quoted cell. */
    private static function closing(string $text, int $open): ?int
    {
        $at = strpos($text, '"', $open + 1);
        while (false !== $at && '"' === ($text[$at + 1] ?? '')) {
            $at = strpos($text, '"', $at + 2);
        }

        return false === $at ? null : $at;
    }
}
