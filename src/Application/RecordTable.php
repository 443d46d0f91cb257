<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Document\PastedTable;
use Vorhut\Core\Document\Table;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/**
 * A pasted table of records: cables, streams, filter rules, audio patches and others. Columns are the fields of the form in their order; a
 * first row of headings may order them otherwise and name any field. Each row is read as its form would be.
 *
 * @phpstan-type RecordRow array{n: int, text: string, cells: array<string, string>, fate: string, why: Message|null}
 */
final readonly class RecordTable implements PastedTable
{
    /** These have a table of their own, with what belongs to each record. */
    public const ELSEWHERE = ['devices', 'extensions'];
    /** Rows of one table. */
    private const MOST = 5_000;

    /**
     * @param list<RecordRow> $rows  fate: new or refused
     * @param list<Edit>      $edits
     */
    private function __construct(public array $rows, private array $edits, private string $heading)
    {
    }

    /**
     * @param array<string, string> $fixed fields that are the same in each row
     *
     * @throws NotEditable for a section that is not written by hand
     * @throws Malformed   for a heading without a meaning, and for a table that is too long
     */
    public static function of(AddRecord $add, Plan $plan, string $section, string $text, TableColumns $columns, array $fixed = []): self
    {
        if (\in_array($section, self::ELSEWHERE, true)) {
            throw NotEditable::because('"{section}" have a table of their own.', ['section' => $section]);
        }
        $table = Table::fromText($text)->rows;
        if (\count($table) > self::MOST) {
            throw Malformed::because('A table has at most [n row|rows].', ['n' => self::MOST]);
        }
        $named = self::headings($section, $table[0]['cells'] ?? [], $columns->labels);
        $heading = null === $named ? '' : array_shift($table)['text'] ?? '';
        $rows = $edits = $keys = [];
        foreach ($table as $one) {
            $row = ['n' => $one['line'], 'text' => $one['text'], 'cells' => [], 'fate' => 'new', 'why' => null];
            try {
                $row['cells'] = self::row($columns, $named ?? $columns->fields, $one['cells']);
                foreach ($add->edits($plan, $section, $fixed + $row['cells']) as $edit) {
                    $edits[] = self::unique($edit, $keys);
                }
                if ('segments' === $section) {
                    // Each gets the next pattern.
                    $plan = $plan->with(new Change(new Message(''), \array_slice($edits, -1)));
                }
            } catch (FieldErrors $e) {
                $row = ['fate' => 'refused', 'why' => Message::join(array_values($e->errors))] + $row;
            } catch (Malformed $e) {
                $row = ['fate' => 'refused', 'why' => $e->message()] + $row;
            }
            $rows[] = $row;
        }

        return new self($rows, $edits, $heading);
    }

    /**
     * @param list<string> $fields
     * @param list<string> $cells
     *
     * @return array<string, string>
     *
     * @throws Malformed
     */
    private static function row(TableColumns $columns, array $fields, array $cells): array
    {
        if ('' !== implode('', \array_slice($cells, \count($fields)))) {
            throw new Malformed('The row has more cells than columns.');
        }

        return $columns->read($fields, $cells);
    }

    public function change(): Change
    {
        return new Change(new Message('[n record|records] pasted.', ['n' => \count($this->edits)]), $this->edits);
    }

    /** @return list<RecordRow> */
    public function refused(): array
    {
        return array_values(array_filter($this->rows, static fn (array $row): bool => 'refused' === $row['fate']));
    }

    public function refusedText(): string
    {
        $left = array_column($this->refused(), 'text');

        return [] === $left ? '' : implode("\n", '' === $this->heading ? $left : [$this->heading, ...$left]);
    }

    /**
     * @param list<string>          $cells  of the first row
     * @param array<string, string> $labels
     *
     * @return list<string>|null the fields that they name; null if the first of them names none: then it is a row
     *
     * @throws Malformed
     */
    private static function headings(string $section, array $cells, array $labels): ?array
    {
        foreach (array_keys(FieldReader::fieldsOf($section)) as $name) {
            $labels += [mb_strtolower($name) => $name];
        }
        $fields = array_map(static fn (string $cell): ?string => $labels[mb_strtolower(trim($cell))] ?? null, $cells);
        if (null === ($fields[0] ?? null)) {
            return null;
        }
        foreach ($fields as $c => $field) {
            if (null === $field) {
                throw Malformed::because('What does "{text}" mean? Nothing says what its column holds.', [
                    'text' => mb_substr($cells[$c], 0, 40),
                ]);
            }
        }

        return array_values(array_filter($fields, is_string(...)));
    }

    /**
     * The same edit, with a key that no row before has.
     *
     * @param array<string, true> $keys
     */
    private static function unique(Edit $edit, array &$keys): Edit
    {
        $key = $edit->key;
        for ($n = 2; isset($keys[$key]); ++$n) {
            $key = $edit->key.'-'.$n;
        }
        $keys[$key] = true;

        return $key === $edit->key ? $edit : Edit::add($edit->section, ['key' => $key] + ($edit->row ?? []));
    }
}
