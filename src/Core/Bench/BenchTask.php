<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\Step;

/**
 * One device as work on the bench: its remaining steps and their prerequisites. Times in seconds.
 *
 * @phpstan-type Part array{code: string, hands: int, wait: int, powered: bool, after: list<int>, from: int}
 */
final readonly class BenchTask
{
    /** @var int the part with which it is powered; -1 where it is powered already, or never */
    public int $powers;
    /** @var int the last part during which it may still hold its factory address; -1 where it holds its own */
    public int $leaves;
    /** @var list<int> from each part on, how long it takes until it is done */
    public array $left;

    /**
     * @param int        $lane  devices of one lane are powered one after the other
     * @param list<Part> $parts `after`: numbers of the pieces that have to be finished before
     * @param list<int>  $clear lanes that all others have to have left before it is powered: what it will hold wakes up there
     * @param int        $from  when it can be gone on with
     * @param bool       $isUp  powered already, and perhaps at its factory address
     */
    public function __construct(
        public string $device,
        public int $lane,
        public array $parts,
        public array $clear = [],
        public int $from = 0,
        public bool $isUp = false,
        public float $watts = 0.0,
    ) {
        $powers = $leaves = -1;
        $left = [];
        $sum = 0;
        for ($i = \count($parts) - 1; $i >= 0; --$i) {
            $sum += $parts[$i]['hands'] + $parts[$i]['wait'];
            $left[] = $sum;
            if ($parts[$i]['powered']) {
                $leaves = max($leaves, $i);
                $powers = $i;
            }
        }
        $this->left = array_reverse($left);
        $this->leaves = $leaves;
        $this->powers = $isUp ? -1 : $powers;
    }

    /**
     * The parts of a run sheet, including finished ones.
     *
     * @param list<Step>               $steps
     * @param array<string, true>      $over  by the code of the step
     * @param array<string, list<int>> $after by the code of the step: pieces that have to be finished before
     * @param array<string, int>       $until by the code of the step: when it can be begun
     *
     * @return list<Part>
     */
    public static function partsOf(array $steps, array $over = [], array $after = [], array $until = []): array
    {
        [$first, $last] = self::powerSpan($steps);
        $parts = [];
        $early = [];
        $from = 0;
        foreach ($steps as $i => $step) {
            if ($i > $first && $i <= $last) {
                // A device that waits at its factory address occupies its lane, so it is powered only when it need not wait any more.
                $early = [...$early, ...$after[$step->code] ?? []];
                $from = max($from, $until[$step->code] ?? 0);
            }
        }
        foreach ($steps as $i => $step) {
            if (isset($over[$step->code])) {
                continue;
            }
            $powered = $i >= $first && $i <= $last;
            $parts[] = [
                'code' => $step->code,
                'hands' => $step->hands,
                'wait' => $step->wait,
                'powered' => $powered,
                'from' => max($i === $first ? $from : 0, $powered && $i !== $first ? 0 : $until[$step->code] ?? 0),
                'after' => match (true) {
                    $i === $first => [...$after[$step->code] ?? [], ...$early],
                    $powered => [],
                    default => $after[$step->code] ?? [],
                },
            ];
        }

        return $parts;
    }

    /** How long the part takes with which it leaves its lane, and all from the given one to it. */
    public function untilItLeaves(int $part): int
    {
        return $part > $this->leaves ? 0 : $this->left[$part] - ($this->left[$this->leaves + 1] ?? 0);
    }

    public function hands(): int
    {
        return array_sum(array_column($this->parts, 'hands'));
    }

    /**
     * From power on until it has restarted with an address of its own.
     *
     * @param list<Step> $steps
     *
     * @return array{int, int} first and last step; the last before the first where there are none
     */
    private static function powerSpan(array $steps): array
    {
        $first = 0;
        $last = -1;
        foreach ($steps as $i => $step) {
            if ($step->does(Effect::Powers)) {
                $first = $i;
            }
            if ($step->does(Effect::Addresses) || $step->does(Effect::Restarts)) {
                $last = $i;
            }
        }

        return [$first, $last];
    }
}
