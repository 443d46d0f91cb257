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
 * @phpstan-import-type TableRow from ColumnOrder
 *
 * @phpstan-type PastedRow array{n: int, text: string, cells: array<string, string>, fate: string, why: Message|null}
 */
final readonly class RosterPaste implements PastedTable
{
    /**
     * @param list<PastedRow> $rows    fate: new, changed, same, ignored or refused
     * @param list<string>    $unknown headings that mean nothing so far
     * @param list<Edit>      $edits
     * @param string          $heading the first row as it was written, where it names the columns
     * @param int             $above   the last line before the table, from 1; 0 if the table is all
     */
    private function __construct(
        public array $rows,
        public array $unknown,
        private array $edits,
        private int $taken,
        private string $heading,
        public int $changed,
        private int $above,
    ) {
    }

    /**
     * @param array<string, string>          $means heading → the meaning that the user chose; `-` for a column to leave out
     * @param (\Closure(int, int): void)|null $tell  hears how many rows were read, and of how many
     */
    public static function of(Plan $plan, string $text, array $means = [], ?\Closure $tell = null): self
    {
        $known = RosterColumns::of($plan);
        [$lines, $table] = self::split($plan, $text);
        $order = ColumnOrder::of(Table::fromText($table)->rows, $known, $means);
        $taker = new RosterTaker($plan);
        $rows = [];
        foreach ([...$lines, ...$order->rows] as $i => $one) {
            if (null !== $tell) {
                $tell($i, \count($lines) + \count($order->rows));
            }
            $row = [
                'n' => $one['line'],
                'text' => $one['text'],
                'cells' => $order->read($one['cells']),
                'fate' => 'refused',
                'why' => null,
            ];
            try {
                [$taker, $taken] = self::take($taker, $row, self::devices($plan, $known, $order, $one));
                array_push($rows, ...$taken);
            } catch (Malformed $e) {
                $rows[] = ['why' => $e->message()] + $row;
            }
        }
        $above = [] === $lines ? 0 : end($lines)['line'];

        return new self($rows, $order->unknown, $taker->edits(), $taker->count(), $order->heading, $taker->changedCount(), $above);
    }

    /**
     * @param TableRow $row
     *
     * @return list<array<string, string>> the devices of a row: one, or those of a DeviceLine; none for a title or a total
     *
     * @throws Malformed
     */
    private static function devices(Plan $plan, RosterColumns $known, ColumnOrder $order, array $row): array
    {
        // A line above the table has no cells of it.
        if ([] === $row['cells'] || !$order->hasHeadings()) {
            return DeviceLine::tryFromText($plan, $known, $row['text'])?->rows() ?? [$order->read($row['cells'])];
        }

        return RosterCells::isHeadingOrTotal($row['cells']) ? [] : [$order->read($row['cells'])];
    }

    /** @return array{list<TableRow>, string} the lines at the beginning that are a DeviceLine each; the rest, with its line numbers */
    private static function split(Plan $plan, string $text): array
    {
        $lines = explode("\n", str_replace(["\r\n", "\r"], "\n", $text));
        $devices = [];
        $below = 0;
        foreach ($lines as $i => $line) {
            if ('' !== trim($line) && !DeviceLine::isOne($plan, $line)) {
                break;
            }
            if ('' !== trim($line)) {
                $devices[] = ['line' => $i + 1, 'text' => $line, 'cells' => []];
                $below = $i + 1;
            }
        }

        return [$devices, str_repeat("\n", $below).implode("\n", \array_slice($lines, $below))];
    }

    /**
     * Takes the devices of a row, all of them or none.
     *
     * @param PastedRow                   $row
     * @param list<array<string, string>> $devices none for a title or a total
     *
     * @return array{RosterTaker, list<PastedRow>} one row for each device
     *
     * @throws Malformed for the first of them that cannot be taken
     */
    private static function take(RosterTaker $taker, array $row, array $devices): array
    {
        if ([] === $devices) {
            return [$taker, [['fate' => 'ignored', 'why' => new Message('A title or a total.')] + $row]];
        }
        // Copied only for a series: one device is taken whole or not at all.
        $trial = \count($devices) > 1 ? clone $taker : $taker;
        $rows = [];
        foreach ($devices as $cells) {
            $cells = RosterCells::read($cells);
            [$fate, $why] = $trial->take($cells);
            $rows[] = ['cells' => $cells, 'fate' => $fate, 'why' => $why] + $row;
        }

        return [$trial, $rows];
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

    /** The rows that were not taken, as they were written, those of a table under their headings. */
    public function refusedText(): string
    {
        $lines = $table = [];
        foreach ($this->refusedRows() as $row) {
            if ($row['n'] <= $this->above) {
                $lines[] = $row['text'];
            } else {
                $table[] = $row['text'];
            }
        }

        return implode("\n", [] === $table || '' === $this->heading ? [...$lines, ...$table] : [...$lines, $this->heading, ...$table]);
    }
}
