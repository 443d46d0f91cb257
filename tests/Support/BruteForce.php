<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Vorhut\Core\Bench\BenchTask;

/** Tries every order in which one pair of hands could do all of it, and knows no rule but that of the bench. */
final class BruteForce
{
    private const MOST = 8_000;

    /** @var array<string, true> states that were looked at */
    private static array $seen = [];

    /**
     * @param list<BenchTask> $pieces
     *
     * @return int|bool a finish that is shorter than the given one; false where no order has one, true where there are too many to try
     */
    public static function shorter(array $pieces, int $than): int|bool
    {
        $n = \count($pieces);
        self::$seen = [];
        $found = self::go($pieces, $than, 0, array_fill(0, $n, 0), array_fill(0, $n, 0), array_fill(0, $n, null));

        return $found ?? self::MOST <= self::looks();
    }

    private static function looks(): int
    {
        return \count(self::$seen);
    }

    /**
     * @param list<BenchTask>       $pieces
     * @param array<int, int>   $next
     * @param array<int, int>   $ready
     * @param array<int, ?int>  $left when each left its lane
     */
    private static function go(array $pieces, int $than, int $now, array $next, array $ready, array $left): ?int
    {
        $state = $now.' '.implode(',', $next).' '.implode(',', $ready).' '.implode(',', array_map(strval(...), $left));
        if (isset(self::$seen[$state]) || \count(self::$seen) >= self::MOST) {
            return null;
        }
        self::$seen[$state] = true;
        $rest = 0;
        $open = false;
        foreach ($pieces as $i => $piece) {
            $hands = array_sum(array_column(\array_slice($piece->parts, $next[$i]), 'hands'));
            $rest += $hands;
            $open = $open || isset($piece->parts[$next[$i]]);
            $whole = $hands + array_sum(array_column(\array_slice($piece->parts, $next[$i]), 'wait'));
            if (max(isset($piece->parts[$next[$i]]) ? $now : 0, $ready[$i]) + $whole >= $than) {
                return null;
            }
        }
        if (!$open) {
            return max([0, ...$ready]);
        }
        if ($now + $rest >= $than) {
            return null;
        }
        $soonest = \PHP_INT_MAX;
        $begins = [];
        foreach ($pieces as $i => $piece) {
            $begin = isset($piece->parts[$next[$i]]) ? self::begin($pieces, $i, $now, $next, $ready, $left) : null;
            if (null !== $begin) {
                $begins[$i] = $begin;
                $soonest = min($soonest, $begin + $piece->parts[$next[$i]]['hands']);
            }
        }
        foreach ($begins as $i => $begin) {
            if ($begin > $soonest) {
                // Another could be done whole before this begins: leaving the hands idle for it gains nothing.
                continue;
            }
            $part = $pieces[$i]->parts[$next[$i]];
            $to = $begin + $part['hands'];
            $then = [...$next];
            ++$then[$i];
            $when = [...$ready];
            $when[$i] = $to + $part['wait'];
            $gone = [...$left];
            $gone[$i] = $next[$i] === $pieces[$i]->leaves ? $when[$i] : $gone[$i];
            $found = self::go($pieces, $than, $to, $then, $when, $gone);
            if (null !== $found) {
                return $found;
            }
        }

        return null;
    }

    /**
     * @param list<BenchTask>      $pieces
     * @param array<int, int>  $next
     * @param array<int, int>  $ready
     * @param array<int, ?int> $left
     */
    private static function begin(array $pieces, int $i, int $now, array $next, array $ready, array $left): ?int
    {
        $piece = $pieces[$i];
        $begin = max($now, $ready[$i]);
        foreach ($piece->parts[$next[$i]]['after'] as $before) {
            if (isset($pieces[$before]->parts[$next[$before]])) {
                return null;
            }
            $begin = max($begin, $ready[$before]);
        }
        if ($next[$i] !== $piece->powers) {
            return $begin;
        }
        foreach ($pieces as $other => $one) {
            $blocks = $other !== $i && $one->leaves >= 0
                && (\in_array($one->lane, $piece->clear, true) || ($one->lane === $piece->lane && $other < $i));
            if ($blocks) {
                if (null === $left[$other]) {
                    return null;
                }
                $begin = max($begin, $left[$other]);
            }
        }

        return $begin;
    }
}
