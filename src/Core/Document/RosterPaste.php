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
     * @param array<string, string>          $means heading → the meaning that the user chose; `-` for a column to leave out
     * @param (\Closure(int, int): void)|null $tell  hears how many rows were read, and of how many
     */
    public static function of(Plan $plan, string $text, array $means = [], ?\Closure $tell = null): self
    {
        $known = RosterColumns::of($plan);
        $order = ColumnOrder::of(Table::fromText($text)->rows, $known, $means);
        $taker = new RosterTaker($plan);
        $rows = [];
        foreach ($order->rows as $i => $one) {
            if (null !== $tell) {
                $tell($i, \count($order->rows));
            }
            $row = [
                'n' => $one['line'],
                'text' => $one['text'],
                'cells' => $order->read($one['cells']),
                'fate' => 'refused',
                'why' => null,
            ];
            try {
                array_push($rows, ...self::take($taker, $row, self::devices($plan, $known, $order, $one)));
            } catch (Malformed $e) {
                $rows[] = ['why' => $e->message()] + $row;
            }
        }

        return new self($rows, $order->unknown, $taker->edits(), $taker->count(), $order->heading, $taker->changedCount());
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
        if ($order->hasHeadings()) {
            return RosterCells::isHeadingOrTotal($row['cells']) ? [] : [$order->read($row['cells'])];
        }

        return DeviceLine::tryFromText($plan, $known, $row['text'])?->rows() ?? [$order->read($row['cells'])];
    }

    /**
     * @param PastedRow                   $row
     * @param list<array<string, string>> $devices
     *
     * @return list<PastedRow> one for each device
     */
    private static function take(RosterTaker $taker, array $row, array $devices): array
    {
        if ([] === $devices) {
            return [['fate' => 'ignored', 'why' => new Message('A title or a total.')] + $row];
        }
        $rows = [];
        foreach ($devices as $cells) {
            $cells = RosterCells::read($cells);
            $taken = ['cells' => $cells] + $row;
            try {
                [$taken['fate'], $taken['why']] = $taker->take($cells);
            } catch (Malformed $e) {
                $taken['why'] = $e->message();
            }
            $rows[] = $taken;
        }

        return $rows;
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
        // A line of several devices is returned once.
        $left = array_values(array_unique(array_column($this->refusedRows(), 'text', 'n')));

        return [] === $left ? '' : implode("\n", '' === $this->heading ? $left : [$this->heading, ...$left]);
    }
}
