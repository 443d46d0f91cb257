<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Numbers;

/**
 * Numbers as a table: each row is read by itself, the good ones can be taken while the bad ones wait with their reason. Columns are
 * number, name, phone, mail, location; a first row of headings may order them otherwise and bring any field of a number. A number that is
 * there already gets what the row says, and keeps what it does not speak of.
 *
 * @phpstan-import-type Stored from Edit
 *
 * @phpstan-type NumberRow array{n: int, text: string, cells: array<string, string>, fate: string, why: Message|null}
 */
final readonly class NumbersPaste implements PastedTable
{
    private const COLUMNS = ['number', 'name', 'phone', 'mail', 'location'];
    /** A number is also a row of the schedule, with fields that are computed and not typed. */
    private const ELSEWHERE = ['tag', 'room', 'account', 'mac', 'registrar', 'mac at the registrar'];

    /**
     * @param list<NumberRow> $rows  fate: new, changed, same or refused
     * @param list<Edit>      $edits
     */
    private function __construct(public array $rows, private array $edits, private int $taken, private string $heading)
    {
    }

    /**
     * @param string                         $pbx  where new numbers live, a device key; empty for none
     * @param (\Closure(int, int): void)|null $tell hears how many rows were read, and of how many
     */
    public static function of(Plan $plan, string $text, string $pbx, ?\Closure $tell = null): self
    {
        $table = Table::fromText($text)->rows;
        $columns = self::COLUMNS;
        $heading = '';
        $head = array_map(static fn (string $cell): string => mb_strtolower(trim($cell)), $table[0]['cells'] ?? []);
        if (\in_array('number', $head, true)) {
            $heading = $table[0]['text'];
            $columns = array_map(self::field(...), $head);
            $table = \array_slice($table, 1);
        }
        $rows = $edits = $given = [];
        $taken = 0;
        foreach ($table as $i => $one) {
            if (null !== $tell) {
                $tell($i, \count($table));
            }
            $cells = [];
            foreach ($one['cells'] as $c => $cell) {
                $cells[$columns[$c] ?? '?'.$c] = trim($cell);
            }
            $row = ['n' => $one['line'], 'text' => $one['text'], 'cells' => $cells, 'fate' => 'new', 'why' => null];
            try {
                [$row['fate'], $more] = self::readRow($plan, $cells, $pbx, $given);
                array_push($edits, ...$more);
                $taken += [] === $more ? 0 : 1;
                $given[$cells['number']] = true;
            } catch (Malformed $e) {
                $row['fate'] = 'refused';
                $row['why'] = $e->message();
            }
            $rows[] = $row;
        }

        return new self($rows, $edits, $taken, $heading);
    }

    public function change(): Change
    {
        return new Change(new Message('[n number|numbers] pasted.', ['n' => $this->taken]), $this->edits);
    }

    /** The rows that were not taken, as they were written, under their headings. */
    public function refusedText(): string
    {
        $left = array_column(array_filter($this->rows, static fn (array $row): bool => 'refused' === $row['fate']), 'text');

        return [] === $left ? '' : implode("\n", '' === $this->heading ? $left : [$this->heading, ...$left]);
    }

    /** The meaning of a heading: a field of a number, or a column that only the schedule has. */
    private static function field(string $heading): string
    {
        foreach (Schema::sections()['extensions'] as $field) {
            $words = mb_strtolower((string) preg_replace('/(?<=[a-z])(?=[A-Z])/', ' ', $field->name));
            if (\in_array($heading, [mb_strtolower($field->name), $words], true)) {
                return $field->name;
            }
        }

        return match ($heading) {
            'emergency location', 'place' => 'location',
            'caller id outside' => 'callerId',
            default => \in_array($heading, self::ELSEWHERE, true) ? '-' : '?'.$heading,
        };
    }

    /**
     * @param array<string, string> $cells
     * @param array<array-key, true> $given numbers of rows before
     *
     * @return array{string, list<Edit>} its fate, and what it changes
     *
     * @throws Malformed
     */
    private static function readRow(Plan $plan, array $cells, string $pbx, array $given): array
    {
        $row = [];
        foreach (Schema::sections()['extensions'] as $field) {
            $text = $cells[$field->name] ?? '';
            if ('' !== $text || 'number' === $field->name) {
                $row[$field->name] = match (true) {
                    'phone' === $field->name => self::devices($plan, $text)[0],
                    'devices' === $field->pointsTo => self::device($plan, $text)->key,
                    default => $field->read($text),
                };
            }
        }
        $further = \array_slice(self::devices($plan, $cells['phone'] ?? ''), 1);
        foreach ($cells as $name => $text) {
            if (str_starts_with($name, '?') && '' !== $text) {
                throw Malformed::because(
                    'What does "{text}" mean? Nothing says what its column holds.',
                    ['text' => mb_substr($text, 0, 40)],
                );
            }
        }
        $number = \is_string($row['number']) ? $row['number'] : '';
        if (isset($given[$number])) {
            throw Malformed::because('The table contains {number} twice.', ['number' => $number]);
        }
        $known = $plan->extensionNumbered($number);
        if (null !== $known) {
            $stored = $plan->row('extensions', $known->key) ?? [];
            $edits = [];
            foreach ($row as $name => $value) {
                // A value that is not set counts as "no".
                if (($stored[$name] ?? (false === $value ? false : null)) !== $value) {
                    $edits[] = Edit::put('extensions', $known->key, $name, $stored[$name] ?? null, $value);
                }
            }

            array_push($edits, ...self::joinTerminals($plan, $known->key, $plan->ringing($known), $further));

            return [[] === $edits ? 'same' : 'changed', $edits];
        }
        if (!Numbers::isInRange($plan, $number)) {
            throw Malformed::because('{number} is outside the range of this job.', ['number' => $number]);
        }
        if ('' === $pbx && !isset($row['pbx'])) {
            throw new Malformed('Choose the PBX first; without one there is nowhere to register.');
        }
        $row += [
            'terminal' => isset($row['phone']) ? 'sip' : 'none',
            'pbx' => $pbx,
            'voicemail' => false,
            'factoryMade' => false,
        ];
        $row['key'] = $plan->freeKey('extensions', 'x'.$number);

        return ['new', [
            Edit::add('extensions', $row),
            ...Numbers::companions($plan, $row),
            ...self::joinTerminals($plan, $row['key'], [], $further),
        ]];
    }

    /**
     * More terminals: existing ones stay, new ones are added.
     *
     * @param list<string> $known   devices that ring already
     * @param list<string> $further
     *
     * @return list<Edit>
     */
    private static function joinTerminals(Plan $plan, string $extension, array $known, array $further): array
    {
        return array_map(
            static fn (string $device): Edit => Edit::add('terminals', Numbers::terminal($plan, $extension, $device)),
            array_values(array_diff($further, $known)),
        );
    }

    /**
     * @return list<string> keys: its phone, and what else rings; several stand with a plus between them
     *
     * @throws Malformed
     */
    private static function devices(Plan $plan, string $text): array
    {
        $tags = array_filter(array_map(trim(...), explode('+', $text)), static fn (string $tag): bool => '' !== $tag);

        return array_values(array_unique(array_map(static fn (string $tag): string => self::device($plan, $tag)->key, $tags)));
    }

    private static function device(Plan $plan, string $text): Device
    {
        return $plan->deviceTagged($text) ?? throw Malformed::because(
            'The roster has no device "{text}".',
            ['text' => mb_substr($text, 0, 40)],
        );
    }
}
