<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Walk\Hop;
use Vorhut\Core\Walk\Walk;

/** The walk as stepping stones: out above from left to right, back below from right to left, the broken one broken. */
final readonly class Stones
{
    private const STEP = 132;

    /**
     * @param list<array{x: int, y: int, n: int, label: string, segment: string, broken: bool, turn: float, hop: Hop}> $stones
     */
    private function __construct(public array $stones, public int $width, public bool $hasBack)
    {
    }

    public static function of(Walk $walk, Plan $plan): self
    {
        $out = $walk->leg(false);
        $back = $walk->leg(true);
        $columns = max(\count($out), \count($back), 3);
        $stones = [];
        foreach ($out as $i => $hop) {
            $stones[] = self::stone($i, $i, 58, $hop);
        }
        foreach ($back as $i => $hop) {
            $stones[] = self::stone(\count($out) + $i, $columns - 1 - $i, 176, $hop);
        }

        return new self($stones, $columns * self::STEP + 20, [] !== $back);
    }

    /** @return array{x: int, y: int, n: int, label: string, segment: string, broken: bool, turn: float, hop: Hop} */
    private static function stone(int $n, int $column, int $y, Hop $hop): array
    {
        return ['x' => 76 + $column * self::STEP, 'y' => $y, 'n' => $n + 1, 'label' => $hop->label, 'segment' => $hop->segment, 'broken' => !$hop->holds(), 'turn' => [-4, 3, -2, 5, 1][$n % 5], 'hop' => $hop];
    }
}
