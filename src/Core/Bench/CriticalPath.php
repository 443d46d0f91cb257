<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/**
 * How long it takes at least from the begin of a part until everything that can only come after it is done: the rest of its own device,
 * the devices behind it in its lane once it has left, and those that wait for it. In seconds.
 */
final class CriticalPath
{
    /** @var array<int, int> task → tasks that can start after it is finished */
    private array $afterFinish = [];
    /** @var array<int, int> task → tasks that can start after it has left its lane */
    private array $afterLeave = [];
    /** @var array<int, list<array{int, int}>> piece → piece and part that wait until it is finished */
    private array $waitFor = [];
    /** @var array<int, int> piece → the next in its lane */
    private array $next = [];
    /** @var array<int, list<int>> lane → pieces that wait until all have left it */
    private array $waitForLane = [];

    /** @param list<BenchTask> $pieces in the order of their lanes */
    public function __construct(private readonly array $pieces)
    {
        $last = [];
        foreach ($pieces as $number => $piece) {
            foreach ($piece->parts as $part => $one) {
                foreach ($one['after'] as $before) {
                    $this->waitFor[$before][] = [$number, $part];
                }
            }
            foreach ($piece->clear as $lane) {
                $this->waitForLane[$lane][] = $number;
            }
            if (isset($last[$piece->lane])) {
                $this->next[$last[$piece->lane]] = $number;
            }
            $last[$piece->lane] = $number;
        }
    }

    public function from(int $piece, int $part): int
    {
        $one = $this->pieces[$piece];
        if (!isset($one->left[$part])) {
            return $this->afterFinish($piece);
        }

        return max(
            $one->left[$part] + $this->afterFinish($piece),
            $part <= $one->leaves ? $one->untilItLeaves($part) + $this->afterLeave($piece) : 0,
        );
    }

    /** The least that all of it takes with so many people. */
    public function lowerBound(int $people): int
    {
        $hands = 0;
        $longest = 0;
        $tail = \PHP_INT_MAX;
        foreach ($this->pieces as $number => $piece) {
            if ([] === $piece->parts) {
                continue;
            }
            $hands += $piece->hands();
            $longest = max($longest, $piece->from + $this->from($number, 0));
            foreach ($piece->parts as $part => $one) {
                $longest = max($longest, 0 === $one['from'] ? 0 : $one['from'] + $this->from($number, $part));
            }
            // Whatever is done last by hand, its wait comes after.
            $tail = min($tail, $piece->parts[\count($piece->parts) - 1]['wait']);
        }

        return 0 === $hands ? $longest : max($longest, (int) ceil($hands / $people) + $tail);
    }

    private function afterFinish(int $piece): int
    {
        if (!isset($this->afterFinish[$piece])) {
            // Who waits for one another in a circle counts once.
            $this->afterFinish[$piece] = 0;
            $longest = 0;
            foreach ($this->waitFor[$piece] ?? [] as [$other, $part]) {
                $longest = max($longest, $this->from($other, $part));
            }
            $this->afterFinish[$piece] = $longest;
        }

        return $this->afterFinish[$piece];
    }

    private function afterLeave(int $piece): int
    {
        if (!isset($this->afterLeave[$piece])) {
            $this->afterLeave[$piece] = 0;
            $longest = 0;
            $behind = isset($this->next[$piece]) ? [$this->next[$piece]] : [];
            foreach ([...$behind, ...$this->waitForLane[$this->pieces[$piece]->lane] ?? []] as $other) {
                $longest = max($longest, $this->from($other, max(0, $this->pieces[$other]->powers)));
            }
            $this->afterLeave[$piece] = $longest;
        }

        return $this->afterLeave[$piece];
    }
}
