<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Plan\OutpostKey;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Proof\Verdict;
use Vorhut\Core\Text\Message;

/**
 * The test matrix: a column for each place that tests are run from, a row for each device. The outline of a cell shows the prediction, its
 * fill the observation.
 */
final readonly class MatrixDrawing
{
    private const LEFT = 130;
    private const COLUMN = 112;
    /** From cell to cell, and from row to row. */
    private const CELL = 28;

    /**
     * @param list<array{key: string, name: string, x: int}> $columns
     * @param list<array{key: string, tag: string, y: int}>  $rows
     * @param list<array{x: int, y: int, shape: string, fill: string, key: string, title: string}> $cells
     */
    private function __construct(public array $columns, public array $rows, public array $cells, public int $width, public int $height)
    {
    }

    /**
     * @param list<TestResult>         $results
     * @param array<string, Outcome>    $foreseen test → its prediction
     * @param \Closure(Message): string $say
     */
    public static function of(Plan $plan, array $results, array $foreseen, \Closure $say): self
    {
        $column = [];
        $row = [];
        foreach ($results as $result) {
            $column[$result->test->from] = true;
            $row[$result->test->to] = true;
        }
        // A column is as far from the next as its widest cell.
        $at = $widest = [];
        foreach ($results as $result) {
            $place = $result->test->from.'>'.$result->test->to;
            $at[$place] = ($at[$place] ?? 0) + 1;
            $widest[$result->test->from] = max($widest[$result->test->from] ?? 0, $at[$place]);
        }
        $columns = [];
        $x = self::LEFT;
        // Places with the most tests come first: the far right is read last.
        $asked = array_count_values(array_map(static fn (TestResult $result): string => $result->test->from, $results));
        $segments = $plan->segments;
        $count = static fn (Segment $segment): int => $asked[OutpostKey::on($segment->key)] ?? 0;
        uasort($segments, static fn (Segment $a, Segment $b): int => $count($b) <=> $count($a));
        foreach ($segments as $segment) {
            $place = OutpostKey::on($segment->key);
            if (isset($column[$place])) {
                $columns[$place] = ['key' => $segment->key, 'name' => $segment->name, 'x' => $x];
                $x += max(self::COLUMN, self::CELL * (1 + ($widest[$place] ?? 0)));
            }
        }
        if (isset($column[ProofTest::BY_HAND])) {
            $columns[ProofTest::BY_HAND] = ['key' => '', 'name' => $say(new Message('a person')), 'x' => $x];
            $x += max(self::COLUMN, self::CELL * (1 + ($widest[ProofTest::BY_HAND] ?? 0)));
        }
        $rows = [];
        foreach ($plan->devices as $device) {
            if (isset($row[$device->key])) {
                $rows[$device->key] = ['key' => $device->key, 'tag' => $device->tag, 'y' => 56 + self::CELL * \count($rows)];
            }
        }

        return new self(
            array_values($columns),
            array_values($rows),
            self::cells($results, $columns, $rows, $foreseen, $say),
            max(self::LEFT + self::COLUMN, $x),
            70 + self::CELL * \count($rows),
        );
    }

    /**
     * @param list<TestResult>                                    $results
     * @param array<string, array{key: string, name: string, x: int}> $columns
     * @param array<string, array{key: string, tag: string, y: int}>  $rows
     * @param array<string, Outcome>                              $foreseen test → its prediction
     * @param \Closure(Message): string                           $say
     *
     * @return list<array{x: int, y: int, shape: string, fill: string, key: string, title: string}>
     */
    private static function cells(array $results, array $columns, array $rows, array $foreseen, \Closure $say): array
    {
        $cells = $at = [];
        foreach ($results as $result) {
            if (!isset($columns[$result->test->from], $rows[$result->test->to])) {
                continue;
            }
            $place = $result->test->from.'>'.$result->test->to;
            $side = ($at[$place] = ($at[$place] ?? -1) + 1);
            $cells[] = [
                'x' => $columns[$result->test->from]['x'] + self::CELL * $side,
                'y' => $rows[$result->test->to]['y'],
                'shape' => $result->test->isMetBy($foreseen[$result->test->key] ?? null) ? 'loop' : 'gap',
                'fill' => self::fill($result),
                'key' => $result->test->key,
                'title' => $say(new Message($result->isOnlyRehearsed() ? '{test}: rehearsed, {verdict}' : '{test}: {verdict}', [
                    'test' => $result->test->title,
                    'verdict' => new Message(($result->isOnlyRehearsed() ? $result->rehearsal : $result)?->verdict->label() ?? ''),
                ])),
            ];
        }

        return $cells;
    }

    private static function fill(TestResult $result): string
    {
        if ($result->isOnlyRehearsed()) {
            return match ($result->rehearsal?->verdict) {
                Verdict::Passed => 'rehearsed',
                Verdict::Failed => 'rehearsed-failed',
                default => 'open',
            };
        }

        return match ($result->verdict) {
            Verdict::Passed => 'held',
            Verdict::Failed => 'failed',
            Verdict::Outdated => 'outdated',
            Verdict::NotRun => 'open',
        };
    }
}
