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
        $columns = [];
        foreach ($plan->segments as $segment) {
            if (isset($warp['outposts/'.$segment->key])) {
                $columns['outposts/'.$segment->key] = ['key' => $segment->key, 'name' => $segment->name, 'x' => 130 + 150 * \count($columns)];
            }
        }
        $rows = [];
        foreach ($plan->devices as $device) {
            if (isset($weft[$device->key])) {
                $rows[$device->key] = ['key' => $device->key, 'tag' => $device->tag, 'y' => 56 + 26 * \count($rows)];
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
                'x' => $columns[$proved->line->from]['x'] + 26 * $side,
                'y' => $rows[$proved->line->to]['y'],
                'shape' => $proved->line->isForeseenToFail() ? 'gap' : 'loop',
                'fill' => self::fill($proved),
                'key' => $proved->line->key,
                'title' => $proved->line->title.': '.$proved->verdict->label(),
            ];
        }

        return new self(array_values($columns), array_values($rows), $knots, 150 + 150 * max(1, \count($columns)), 70 + 26 * \count($rows));
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
