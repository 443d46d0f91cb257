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

    /**
     * @param list<PastedRow> $rows    fate: new or refused
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
    ) {
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
        if (\in_array('tag', array_map(mb_strtolower(...), $table[0]['cells'] ?? []), true)) {
            $known = RosterColumns::of($plan);
            $heading = $table[0]['text'];
            $columns = [];
            foreach ($table[0]['cells'] as $c => $name) {
                $columns[$c] = $known->meaning($name) ?? $known->meaning($means[$name] ?? '') ?? self::IGNORED;
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
            $row = ['n' => $one['line'], 'text' => $one['text'], 'cells' => $cells, 'fate' => 'new', 'why' => null];
            try {
                $taker->take($cells);
            } catch (Malformed $e) {
                $row['fate'] = 'refused';
                $row['why'] = $e->message();
            }
            $rows[] = $row;
        }

        return new self($rows, array_values(array_unique($unknown)), $taker->edits(), $taker->count(), $heading);
    }

    /** @return int how many rows will be taken */
    public function good(): int
    {
        return \count($this->rows) - \count($this->refusedRows());
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
        $left = ['new' => $most, 'refused' => $most];

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
        return new Change(new Message('[n device|devices] pasted.', ['n' => $this->taken]), [] === $this->unknown ? $this->edits : []);
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
