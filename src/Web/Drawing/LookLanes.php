<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Lighting\LookSpan;

/**
 * Which look is on when, as lanes along the time: one for each look in the order in which it first comes, darkness among them.
 *
 * @phpstan-type Lane array{name: string, scene: int|null, blocks: list<array{x: float, width: float, span: LookSpan}>}
 */
final readonly class LookLanes
{
    public const WIDTH = 1000;
    /** Where the lanes begin: before it stand their names. */
    public const FROM = 150;

    /**
     * @param list<Lane>                         $lanes
     * @param list<array{x: float, at: float}> $ticks seconds at which something happens
     */
    private function __construct(public array $lanes, public array $ticks)
    {
    }

    /** @param list<LookSpan> $spans each until the next one begins */
    public static function of(array $spans): self
    {
        $last = [] === $spans ? 0.0 : $spans[array_key_last($spans)]->from;
        // The last result stays visible; a tenth of the total is enough.
        $end = max(1.0, $last * 1.1, $last + 1);
        $x = static fn (float $at): float => round(self::FROM + (self::WIDTH - self::FROM) * $at / $end, 1);
        $lanes = $ticks = [];
        foreach ($spans as $i => $span) {
            $name = $span->look.'#'.$span->scene;
            $lanes[$name] ??= ['name' => $span->look, 'scene' => $span->scene, 'blocks' => []];
            $till = isset($spans[$i + 1]) ? $spans[$i + 1]->from : $end;
            $lanes[$name]['blocks'][] = [
                'x' => $x($span->from),
                'width' => max(1.0, round($x($till) - $x($span->from), 1)),
                'span' => $span,
            ];
            $ticks[(string) $span->from] = ['x' => $x($span->from), 'at' => $span->from];
        }

        return new self(array_values($lanes), array_values($ticks));
    }
}
