<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Catalogue\Kind;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Plan;

/**
 * A device as it is noted in a mail, or a series of equal ones: `Video bar, .31, 00-00-5E-00-53-30, Q7rT402` or
 * `5 × PTZ camera, Studio, .171-.175`. The line begins with the kind. The order of the other cells is free, because each is recognised by
 * its form: MAC, address, segment, serial number (has a digit and no blank), `name: value` for any column, room (anything else).
 */
final readonly class DeviceLine
{
    /** Devices in one line. */
    public const MOST = 200;
    /** Of a series: a range, or the first value. */
    private const COUNTED = ['tag', 'address', 'extension'];
    /** Words that may precede a value without a colon. */
    private const WORDS = [
        'tag' => 'tag',
        'serial' => 's/n|serial(?: no\.?| number)?',
        'room' => 'room',
        'segment' => 'vlan|segment',
        'labelAddress' => 'labell?ed|label|factory address',
        'extension' => 'extensions?|ext\.?',
        'gateway' => 'gateway|gw',
    ];

    /**
     * @param array<string, string> $cells of all its devices
     * @param list<string>          $macs
     */
    private function __construct(public Kind $kind, public int $count, private array $cells, private array $macs)
    {
    }

    /**
     * @return self|null null if the line does not begin with a kind, or if the second cell is one: then it is a row of a table
     *
     * @throws Malformed
     */
    public static function tryFromText(Plan $plan, RosterColumns $columns, string $text): ?self
    {
        $cells = self::split($text);
        [$kind, $count] = self::beginning($plan, $cells);
        if (null === $kind) {
            return null;
        }
        if ($count < 1 || $count > self::MOST) {
            throw Malformed::because('Add 1 to {most} devices at a time.', ['most' => self::MOST]);
        }
        $read = $macs = [];
        foreach (\array_slice($cells, 1) as $cell) {
            [$name, $value] = self::recognise($plan, $columns, $cell);
            if ('mac' === $name) {
                $macs[] = $value;
            } elseif (isset($read[$name])) {
                throw Malformed::because('"{one}" and "{other}" are both read as {name}. Write "{name}: …" before the right one.', [
                    'one' => $read[$name],
                    'other' => $value,
                    'name' => RosterColumns::label($name),
                ]);
            } else {
                $read[$name] = $value;
            }
        }

        return new self($kind, $count, $read, $macs);
    }

    /** The line with a segment for its devices, unless it names one itself, or a whole address. */
    public static function withSegment(Plan $plan, RosterColumns $columns, string $text, string $segment): string
    {
        $cells = self::split($text);
        foreach (\array_slice($cells, 1) as $cell) {
            [$name, $value] = self::recognise($plan, $columns, $cell);
            if ('segment' === $name || ('address' === $name && 1 === preg_match('/^\d/', $value))) {
                return $text;
            }
        }

        return rtrim($text).(str_contains($text, "\t") ? "\t" : (str_contains($text, ';') ? '; ' : ', ')).'segment: '.$segment;
    }

    /** Whether a text begins with a kind, such as "Video bar" or "5 PTZ cameras". */
    public static function isOne(Plan $plan, string $text): bool
    {
        return null !== self::beginning($plan, self::split($text))[0];
    }

    /**
     * @return list<array<string, string>> one row for each device, without a tag where the line has none
     *
     * @throws Malformed where the line has another number of values than devices
     */
    public function rows(): array
    {
        $rows = array_fill(0, $this->count, ['kind' => $this->kind->code]);
        foreach ($this->columns() as $name => $values) {
            if (\count($values) !== $this->count) {
                throw Malformed::because('[n device|devices], but [m value|values] for {name}.', [
                    'n' => $this->count,
                    'm' => \count($values),
                    'name' => RosterColumns::label($name),
                ]);
            }
            foreach ($values as $i => $value) {
                $rows[$i][$name] = $value;
            }
        }

        return $rows;
    }

    /**
     * @return array<string, list<string>> field → a value for each device
     *
     * @throws Malformed
     */
    private function columns(): array
    {
        $columns = [] === $this->macs ? [] : ['mac' => $this->macs];
        foreach ($this->cells as $name => $value) {
            $columns[$name] = match (true) {
                \in_array($name, self::COUNTED, true) && 0 !== strcasecmp($value, 'dhcp') => CountedUp::from($value, $this->count),
                'serial' === $name => [$value],
                default => array_fill(0, $this->count, $value),
            };
        }

        return $columns;
    }

    /** @return list<string> */
    private static function split(string $text): array
    {
        $separator = match (true) {
            str_contains($text, "\t") => '/\t/',
            str_contains($text, ';') => '/;/',
            default => '/,/',
        };
        $cells = array_map(trim(...), preg_split($separator, trim($text)) ?: []);

        return array_values(array_filter($cells, static fn (string $cell): bool => '' !== $cell));
    }

    /**
     * @param list<string> $cells
     *
     * @return array{Kind|null, int} the kind, by its name in singular or plural, and how many; null where the line begins with none, or
     *                               where the second cell is a kind: then it is a row of a table
     */
    private static function beginning(Plan $plan, array $cells): array
    {
        $catalogue = $plan->catalogue;
        $first = $cells[0] ?? '';
        if (null !== $catalogue->kindNamed($cells[1] ?? '')) {
            return [null, 0];
        }
        if (1 === preg_match('/^(\d{1,4})\s*(?:[x×]\s*|\s)(.+)$/iuD', $first, $found)) {
            return [$catalogue->kindNamed($found[2]) ?? $catalogue->kindNamed(rtrim($found[2], 's')), (int) $found[1]];
        }

        return [$catalogue->kindNamed($first), 1];
    }

    /** @return array{string, string} column and text */
    private static function recognise(Plan $plan, RosterColumns $columns, string $cell): array
    {
        $named = 1 === preg_match('/^([^:=]{2,40})[:=]\s*(.+)$/suD', $cell, $found) ? $columns->meaning($found[1]) : null;
        if (null !== $named && null === Mac::tryFromString($cell)) {
            return [$named, trim($found[2])];
        }
        foreach (self::WORDS as $name => $words) {
            if (1 === preg_match('~^(?:'.$words.')\s+(.+)$~iuD', $cell, $found)) {
                return [$name, trim($found[1])];
            }
        }

        return [match (true) {
            null !== Mac::tryFromString($cell) => 'mac',
            self::isAddress($cell) || 0 === strcasecmp($cell, 'dhcp') => 'address',
            null !== SegmentName::find($plan, $cell) => 'segment',
            1 === preg_match('/^\S*\d\S*$/D', $cell) => 'serial',
            default => 'room',
        }, $cell];
    }

    /** An address, with or without its mask, its last octet, or a range of either. */
    private static function isAddress(string $cell): bool
    {
        $host = '(?:\d{1,3}(?:\.\d{1,3}){3}|\.\d{1,3})';

        return 1 === preg_match('~^'.$host.'(?:\s*/\s*\d{1,2}|\s*[-–]\s*'.$host.')?$~uD', $cell);
    }
}
