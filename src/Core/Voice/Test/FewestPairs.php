<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Test;

/** Which of many call each other, so that all are covered by the fewest calls. */
final class FewestPairs
{
    /**
     * The fewest pairs that cover all: each calls once and is called once, over every ordered pair of segments. In a segment, as many as
     * there are other segments call one of each, the others call a neighbour; one that is called from another segment is not called by a
     * neighbour. With fewer, some call more than once: no plan has fewer pairs (CallCover).
     *
     * @template T of object
     *
     * @param array<array-key, non-empty-list<T>> $bySegment
     *
     * @return list<array{T, T, array{array-key, array-key}|null}> caller, called party, and the pair of segments if that is the reason
     */
    public static function of(array $bySegment): array
    {
        ksort($bySegment);
        $segments = array_keys($bySegment);
        $others = \count($segments) - 1;
        $pairs = [];
        foreach ($segments as $place => $from) {
            $asking = $bySegment[$from];
            $n = \count($asking);
            for ($far = 1; $far <= $others; ++$far) {
                $to = $segments[($place + $far) % \count($segments)];
                $asked = $bySegment[$to];
                $m = \count($asked);
                // Those at the end are asked from elsewhere, those at the beginning by their neighbours.
                $pairs[] = [
                    $asking[($far - 1) % $n],
                    $asked[($m > $others ? $m - $far : $others - $far) % $m],
                    $far <= $n ? null : [$from, $to],
                ];
            }
            for ($i = $others; $i < $n && $n > 1; ++$i) {
                $pairs[] = [$asking[$i], $asking[0 === $others ? ($i + 1) % $n : $i - $others], null];
            }
        }

        return $pairs;
    }
}
