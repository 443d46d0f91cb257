<?php

declare(strict_types=1);

namespace Vorhut\Web\Drawing;

use Vorhut\Core\Media\LinkLoad;
use Vorhut\Core\Power\PoeBudget;
use Vorhut\Core\Power\PoeLoad;

/** The load of a link or a switch as a bar: loads in blocks, and the headroom as a limit. */
final readonly class LoadBar
{
    public const WIDTH = 1000;
    /** Thinner than this nothing is seen. */
    private const SEEN = 0.6;

    /**
     * @param float                                                                            $wall   start of the headroom
     * @param list<array{x: float, width: float, name: string, size: float, over: bool, small: bool}> $blocks
     */
    private function __construct(public float $wall, public float $end, public array $blocks)
    {
    }

    public static function ofLink(LinkLoad $load): self
    {
        return self::of($load->mbps, $load->usable, array_map(
            static fn (array $part): array => [$part['name'], $part['mbps'], '' === $part['ref']],
            $load->parts,
        ));
    }

    public static function ofSwitch(PoeBudget $budget): self
    {
        return self::of($budget->has, $budget->usable(), array_map(
            static fn (PoeLoad $load): array => [$load->device->tag, $load->counted, false],
            $budget->loads,
        ));
    }

    /**
     * The whole width is what there is, or all that is on it where that is more.
     *
     * @param list<array{string, float, bool}> $parts
     */
    private static function of(float $has, float $usable, array $parts): self
    {
        $scale = self::WIDTH / max($has, array_sum(array_column($parts, 1)), 0.001);
        $at = 0.0;
        $blocks = [];
        foreach ($parts as [$name, $size, $small]) {
            $blocks[] = [
                'x' => round($at * $scale, 1),
                'width' => max(self::SEEN, round($size * $scale, 1)),
                'name' => $name,
                'size' => $size,
                'over' => $at + $size > $usable + 1e-6,
                'small' => $small,
            ];
            $at += $size;
        }

        return new self(round($usable * $scale, 1), round($has * $scale, 1), $blocks);
    }
}
