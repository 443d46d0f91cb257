<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * A pasted roster: every row is read separately, the good ones can be added while the bad ones wait with their reason. Columns are tag,
 * kind, room, segment, MAC, serial; a first row of headings may order them differently and add any setting. An unknown heading is never
 * dropped: the user chooses its meaning.
 *
 * @phpstan-type PastedRow array{n: int, text: string, cells: array<string, string>, fate: string, why: Message|null}
 */
final readonly class RosterPaste implements PastedTable
{
    private const IGNORED = '-';
    /** Rows among which the headings are looked for. */
    private const TITLES = 10;

    /**
     * @param list<PastedRow> $rows    fate: new, changed, same, ignored or refused
     * @param list<string>    $unknown headings that mean nothing so far
     * @param list<Edit>      $edits
     * @param string          $heading the first row as it was written, where it names the columns
     */
    private function __construct(
        public array $rows,
        public array $unknown,
        private array $edits,
        private int $taken,
        private string $heading,
        public int $changed,
    ) {
    }

    /**
     * @param list<array{line: int, text: string, cells: list<string>}> $table
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
     * @param array<string, string>          $means heading → the meaning that the user chose; `-` for a column to leave out
     * @param (\Closure(int, int): void)|null $tell  hears how many rows were read, and of how many
     */
    public static function of(Plan $plan, string $text, array $means = [], ?\Closure $tell = null): self
    {
        $table = Table::fromText($text)->rows;
        $columns = RosterColumns::FIELDS;
        $heading = '';
        $unknown = [];
        $known = RosterColumns::of($plan);
        $titles = self::titleRows($table, $known);
        if (null !== $titles) {
            $table = \array_slice($table, $titles);
            $heading = $table[0]['text'];
            $columns = [];
            foreach ($table[0]['cells'] as $c => $name) {
                $chosen = $means[$name] ?? null;
                $columns[$c] = self::IGNORED === $chosen
                    ? self::IGNORED
                    : $known->meaning($chosen ?? '') ?? $known->meaning($name) ?? self::IGNORED;
                if (self::IGNORED !== $columns[$c] && \in_array($columns[$c], \array_slice($columns, 0, $c), true)) {
                    // Of two columns with one meaning the second has to be told apart, or left out.
                    $columns[$c] = self::IGNORED;
                }
                if (self::IGNORED === $columns[$c] && '' !== $name && self::IGNORED !== ($means[$name] ?? null)) {
                    $unknown[] = $name;
                }
            }
            $table = \array_slice($table, 1);
        } else {
            foreach ($table as $row) {
                for ($c = \count($columns); $c < \count($row['cells']); ++$c) {
                    // More cells than columns: the extra ones have no meaning.
                    if ('' !== $row['cells'][$c]) {
                        $unknown[] = (string) ($c + 1);
                    }
                }
            }
        }
        $taker = new RosterTaker($plan);
        $rows = [];
        foreach ($table as $i => $one) {
            if (null !== $tell) {
                $tell($i, \count($table));
            }
            $cells = [];
            foreach ($columns as $c => $column) {
                $cells[$column] = $one['cells'][$c] ?? '';
            }
            unset($cells[self::IGNORED]);
            $cells = RosterCells::read($cells);
            $row = ['n' => $one['line'], 'text' => $one['text'], 'cells' => $cells, 'fate' => 'new', 'why' => null];
            try {
                [$row['fate'], $row['why']] = null !== $titles && RosterCells::isHeadingOrTotal($one['cells'])
                    ? ['ignored', new Message('A title or a total.')]
                    : $taker->take($cells);
            } catch (Malformed $e) {
                $row['fate'] = 'refused';
                $row['why'] = $e->message();
            }
            $rows[] = $row;
        }

        return new self($rows, array_values(array_unique($unknown)), $taker->edits(), $taker->count(), $heading, $taker->changedCount());
    }

    /** @return int how many rows add or change a device */
    public function good(): int
    {
        return $this->taken + $this->changed;
    }

    /**
     * The rows to check before adding: the first refused ones, and the first good ones.
     *
     * @param int $most how many of each
     *
     * @return list<PastedRow> in their order
     */
    public function worthALook(int $most): array
    {
        $left = array_fill_keys(['new', 'changed', 'same', 'ignored', 'refused'], $most);

        return array_values(array_filter($this->rows, static function (array $row) use (&$left): bool {
            return $left[$row['fate']]-- > 0;
        }));
    }

    /** Empty while a column has no known meaning. */
    public function bringsAccounts(): bool
    {
        return false;
    }

    public function change(): Change
    {
        $why = 0 === $this->changed
            ? new Message('[n device|devices] pasted.', ['n' => $this->taken])
            : new Message('[n device|devices] pasted, {m} changed.', ['n' => $this->taken, 'm' => $this->changed]);

        return new Change($why, [] === $this->unknown ? $this->edits : []);
    }

    public function refused(): int
    {
        return \count($this->refusedRows());
    }

    /** @return list<PastedRow> */
    private function refusedRows(): array
    {
        return array_values(array_filter($this->rows, static fn (array $row): bool => 'refused' === $row['fate']));
    }

    /** The rows that were not taken, as they were written, under their headings. */
    public function refusedText(): string
    {
        $left = array_map(
            static fn (array $row): string => $row['text'],
            $this->refusedRows(),
        );

        return [] === $left ? '' : implode("\n", '' === $this->heading ? $left : [$this->heading, ...$left]);
    }
}
