<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Audio\SoundWay;
use Vorhut\Core\Plan\SoundPatch;

/**
 * Ways of sound as cords that hang from plate to plate: one way below the other, its stations from left to right. A cord that ends inside
 * a processor hangs loose.
 */
final readonly class WaysOfSound
{
    private const COLUMN = 190;
    private const ROW = 46;
    private const PLATE = 104;

    /**
     * @param list<array{
     *     y: int, way: SoundWay, plates: list<array{x: int, tag: string, device: string, channels: string}>, cords: list<string>,
     *     loose: string|null, thick: int
     * }> $ways
     */
    private function __construct(public array $ways, public int $width, public int $height)
    {
    }

    /** @param list<SoundWay> $ways */
    public static function of(array $ways): self
    {
        $drawn = [];
        $most = 1;
        foreach ($ways as $n => $way) {
            $y = 24 + $n * self::ROW;
            $plates = $cords = [];
            foreach ($way->stations as $i => $station) {
                $x = 8 + $i * self::COLUMN;
                $plates[] = [
                    'x' => $x,
                    'tag' => $station['tag'],
                    'device' => $station['device'],
                    'channels' => SoundPatch::span($station['first'], $way->count),
                ];
                if ($i > 0) {
                    $cords[] = self::cord($x - self::COLUMN + self::PLATE, $x, $y);
                }
            }
            $most = max($most, \count($plates));
            $drawn[] = [
                'y' => $y,
                'way' => $way,
                'plates' => $plates,
                'cords' => $cords,
                'loose' => $way->ends ? null : \sprintf('M%d %d q20 18 34 16', 8 + (\count($plates) - 1) * self::COLUMN + self::PLATE, $y),
                // Its width follows the number of channels.
                'thick' => min(7, 2 + intdiv($way->count, 8)),
            ];
        }

        return new self($drawn, 60 + $most * self::COLUMN, 20 + \count($drawn) * self::ROW);
    }

    private static function cord(int $from, int $to, int $y): string
    {
        return \sprintf('M%d %d C%d %d %d %d %d %d', $from, $y, $from + 24, $y + 14, $to - 24, $y + 14, $to, $y);
    }
}
