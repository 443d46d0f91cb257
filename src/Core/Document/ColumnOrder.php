<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

/**
 * Which column of a pasted roster has which meaning: from its row of headings, or the usual order where there is none.
 *
 * @phpstan-type TableRow array{line: int, text: string, cells: list<string>}
 */
final readonly class ColumnOrder
{
    /** The meaning of a column that is left out. */
    public const IGNORED = '-';
    /** Rows among which the headings are looked for. */
    private const TITLES = 10;

    /**
     * @param list<string>   $columns the meaning of each
     * @param list<string>   $unknown headings, or numbers of columns, that mean nothing so far
     * @param string         $heading the row of headings as it was written; empty where there is none
     * @param list<TableRow> $rows    below the headings
     */
    private function __construct(public array $columns, public array $unknown, public string $heading, public array $rows)
    {
    }

    /**
     * @param list<TableRow>        $table
     * @param array<string, string> $means heading → the meaning that the user chose
     */
    public static function of(array $table, RosterColumns $known, array $means): self
    {
        $titles = self::titleRows($table, $known);
        if (null === $titles) {
            return new self(RosterColumns::FIELDS, self::surplus($table), '', $table);
        }
        $columns = [];
        $unknown = [];
        foreach ($table[$titles]['cells'] as $name) {
            $meaning = self::chosen($name, $known, $means);
            // Of two columns with one meaning the user has to tell the second apart, or leave it out.
            $isTaken = self::IGNORED !== $meaning && \in_array($meaning, $columns, true);
            if ($isTaken || null === $meaning) {
                $unknown[] = $name;
            }
            $columns[] = $isTaken ? self::IGNORED : $meaning ?? self::IGNORED;
        }

        return new self(
            $columns,
            array_values(array_unique(array_filter($unknown, static fn (string $name): bool => '' !== $name))),
            $table[$titles]['text'],
            \array_slice($table, $titles + 1),
        );
    }

    public function hasHeadings(): bool
    {
        return '' !== $this->heading;
    }

    /**
     * @param list<string> $cells of one row
     *
     * @return array<string, string> meaning → cell
     */
    public function read(array $cells): array
    {
        $read = [];
        foreach ($this->columns as $c => $column) {
            $read[$column] = $cells[$c] ?? '';
        }
        unset($read[self::IGNORED]);

        return $read;
    }

    /** @param array<string, string> $means */
    private static function chosen(string $name, RosterColumns $known, array $means): ?string
    {
        $chosen = $means[$name] ?? '';

        return self::IGNORED === $chosen ? self::IGNORED : $known->meaning($chosen) ?? $known->meaning($name);
    }

    /**
     * @param list<TableRow> $table
     *
     * @return int|null rows above the headings, such as a title; null without headings
     */
    private static function titleRows(array $table, RosterColumns $known): ?int
    {
        foreach (\array_slice($table, 0, self::TITLES) as $i => $row) {
            $meanings = array_filter(array_map($known->meaning(...), $row['cells']), is_string(...));
            if (\in_array('tag', $meanings, true) && (\count($meanings) > 1 || 1 === \count($row['cells']))) {
                return $i;
            }
        }

        return null;
    }

    /**
     * @param list<TableRow> $table
     *
     * @return list<string> numbers of the columns beyond the usual ones: without a heading they have no meaning
     */
    private static function surplus(array $table): array
    {
        $numbers = [];
        foreach ($table as $row) {
            for ($c = \count(RosterColumns::FIELDS); $c < \count($row['cells']); ++$c) {
                if ('' !== $row['cells'][$c]) {
                    $numbers[$c] = (string) ($c + 1);
                }
            }
        }

        return array_values($numbers);
    }
}
