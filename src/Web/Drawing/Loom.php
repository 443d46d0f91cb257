<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Proof\Proof;
use Vorhut\Core\Proof\Proved;
use Vorhut\Core\Proof\Verdict;

/**
 * The loom: warp threads are the places one looks from, weft threads the devices. The outer shape of a knot is what is computed, its filling
 * what was observed.
 */
final readonly class Loom
{
    private const LEFT = 130;
    private const COLUMN = 150;
    /** From knot to knot, and from thread to thread downwards. */
    private const KNOT = 28;

    /**
     * @param list<array{key: string, name: string, x: int}>                                $warp
     * @param list<array{key: string, tag: string, y: int}>                                 $weft
     * @param list<array{x: int, y: int, shape: string, fill: string, key: string, title: string}> $knots
     */
    private function __construct(public array $warp, public array $weft, public array $knots, public int $width, public int $height)
    {
    }

    public static function of(Plan $plan, Proof $proof): self
    {
        $warp = [];
        $weft = [];
        foreach ($proof->lines as $proved) {
            $warp[$proved->line->from] = true;
            $weft[$proved->line->to] = true;
        }
        // A warp thread is as far from the next as its fullest crossing is wide.
        $at = $widest = [];
        foreach ($proof->lines as $proved) {
            $place = $proved->line->from.'>'.$proved->line->to;
            $at[$place] = ($at[$place] ?? 0) + 1;
            $widest[$proved->line->from] = max($widest[$proved->line->from] ?? 0, $at[$place]);
        }
        $columns = [];
        $x = self::LEFT;
        foreach ($plan->segments as $segment) {
            $place = 'outposts/'.$segment->key;
            if (isset($warp[$place])) {
                $columns[$place] = ['key' => $segment->key, 'name' => $segment->name, 'x' => $x];
                $x += max(self::COLUMN, self::KNOT * (1 + ($widest[$place] ?? 0)));
            }
        }
        $rows = [];
        foreach ($plan->devices as $device) {
            if (isset($weft[$device->key])) {
                $rows[$device->key] = ['key' => $device->key, 'tag' => $device->tag, 'y' => 56 + self::KNOT * \count($rows)];
            }
        }
        $knots = [];
        $at = [];
        foreach ($proof->lines as $proved) {
            if (!isset($columns[$proved->line->from], $rows[$proved->line->to])) {
                continue;
            }
            $place = $proved->line->from.'>'.$proved->line->to;
            $side = ($at[$place] = ($at[$place] ?? -1) + 1);
            $knots[] = [
                'x' => $columns[$proved->line->from]['x'] + self::KNOT * $side,
                'y' => $rows[$proved->line->to]['y'],
                'shape' => $proved->line->isForeseenToFail() ? 'gap' : 'loop',
                'fill' => self::fill($proved),
                'key' => $proved->line->key,
                'title' => $proved->line->title.': '.$proved->verdict->label(),
            ];
        }

        return new self(array_values($columns), array_values($rows), $knots, max(self::LEFT + self::COLUMN, $x), 70 + self::KNOT * \count($rows));
    }

    private static function fill(Proved $proved): string
    {
        return match ($proved->verdict) {
            Verdict::AsPlanned => 'held',
            Verdict::Contrary => 'contrary',
            Verdict::Stale => 'stale',
            Verdict::NotYet => 'open',
        };
    }
}
