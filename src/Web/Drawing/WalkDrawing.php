<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Network\Walk\Hop;
use Vorhut\Core\Network\Walk\Walk;
use Vorhut\Core\Text\Message;

/**
 * The packet walk as a row of hops: the request above from left to right, the reply below from right to left, with the failed hop marked.
 */
final readonly class WalkDrawing
{
    private const STEP = 132;
    /** Letters of the reason in one line, and how wide such a line is drawn. */
    private const LETTERS = 36;
    private const LINE = 2 * self::STEP;

    /**
     * @param list<array{x: int, y: int, n: int, label: string, segment: string, broken: bool, turn: float, hop: Hop}> $hops
     * @param array{
     *     x: int, y: int, end: bool, lines: list<string>,
     * }|null $reason why a hop failed, next to it; `end` if the lines end at x
     */
    private function __construct(public array $hops, public int $width, public bool $hasBack, public ?array $reason)
    {
    }

    /** @param \Closure(Message): string $say the reader's language */
    public static function of(Walk $walk, \Closure $say): self
    {
        $out = $walk->leg(false);
        $back = $walk->leg(true);
        $columns = max(\count($out), \count($back), 3);
        $broken = $walk->brokenHop();
        // Out, the broken hop is the last and the room is behind it; back, the room is before it where enough hops have gone.
        $room = $columns - (true === $broken?->back ? \count($back) : \count($out));
        if (null !== $broken && self::STEP * $room < self::LINE) {
            $columns += (int) ceil(self::LINE / self::STEP) - $room;
        }
        $hops = [];
        foreach ($out as $i => $hop) {
            $hops[] = self::drawnHop($i, $i, 58, $hop, $say);
        }
        foreach ($back as $i => $hop) {
            $hops[] = self::drawnHop(\count($out) + $i, $columns - 1 - $i, 176, $hop, $say);
        }

        $last = $hops[array_key_last($hops) ?? 0] ?? null;
        $reason = null === $broken || null === $last ? null : [
            'x' => $last['x'] + ($broken->back ? -1 : 1) * 72,
            'y' => $last['y'],
            'end' => $broken->back,
            'lines' => explode("\n", wordwrap($say($broken->text), self::LETTERS)),
        ];

        return new self($hops, $columns * self::STEP + 20, [] !== $back, $reason);
    }

    /**
     * @param \Closure(Message): string $say
     *
     * @return array{x: int, y: int, n: int, label: string, segment: string, broken: bool, turn: float, hop: Hop}
     */
    private static function drawnHop(int $n, int $column, int $y, Hop $hop, \Closure $say): array
    {
        return [
            'x' => 76 + $column * self::STEP,
            'y' => $y,
            'n' => $n + 1,
            'label' => $hop->label instanceof Message ? $say($hop->label) : $hop->label,
            'segment' => $hop->segment,
            'broken' => !$hop->holds(),
            'turn' => [-4, 3, -2, 5, 1][$n % 5],
            'hop' => $hop,
        ];
    }
}
