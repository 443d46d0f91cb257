<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/**
 * The shortest of all orders, for a few devices and one pair of hands: branch and bound over active schedules (Giffler and Thompson 1960),
 * begun with what list scheduling found. It gives up after so many looks and keeps the best so far.
 *
 * @phpstan-import-type Slot from ListScheduler
 */
final class BestOrder
{
    /** More devices have more orders than one can look at. */
    public const MOST = 7;

    /** @var list<Slot>|null */
    public ?array $slots = null;
    public bool $isExact = true;

    private int $looks = 0;

    /** @param list<BenchTask> $pieces */
    private function __construct(
        private readonly array $pieces,
        private readonly CriticalPath $path,
        public int $finish,
        private readonly int $bound,
        private readonly int $most,
    ) {
    }

    /**
     * @param list<BenchTask> $pieces
     * @param int         $finish of the best order known; only a shorter one is looked for
     * @param int         $bound  no order is shorter
     * @param int         $most   how many partial orders are looked at
     */
    public static function of(array $pieces, CriticalPath $path, int $finish, int $bound, int $most = 40_000): self
    {
        $best = new self($pieces, $path, $finish, $bound, $most);
        $n = \count($pieces);
        $ready = array_map(static fn (BenchTask $piece): int => $piece->from, $pieces);
        $best->look(0, array_fill(0, $n, 0), $ready, [], [], []);

        return $best;
    }

    /**
     * @param list<int>                    $next   piece → its next part
     * @param list<int>                    $ready  piece → when it can be gone on with
     * @param array<int, int>              $left   piece → when it left its lane
     * @param array<int, int>              $done   piece → when it was finished
     * @param list<array{int, int, int}>   $order  piece, part, begin
     */
    private function look(int $now, array $next, array $ready, array $left, array $done, array $order): void
    {
        if ($this->finish <= $this->bound) {
            return;
        }
        if (++$this->looks > $this->most) {
            $this->isExact = false;

            return;
        }
        $begins = [];
        $firstEnd = \PHP_INT_MAX;
        $hands = 0;
        $done += $this->finished($next, $ready);
        $longest = max([0, ...array_intersect_key($ready, $done)]);
        foreach ($this->pieces as $number => $piece) {
            $part = $next[$number];
            if (!isset($piece->parts[$part])) {
                continue;
            }
            for ($i = $part; isset($piece->parts[$i]); ++$i) {
                $hands += $piece->parts[$i]['hands'];
            }
            $begin = $this->begin($number, $part, max($now, $ready[$number]), $next, $left, $done);
            $longest = max($longest, ($begin ?? max($now, $ready[$number])) + $this->path->from($number, $part));
            if (null !== $begin) {
                $begins[$number] = $begin;
                $firstEnd = min($firstEnd, $begin + $piece->parts[$part]['hands']);
            }
        }
        if ([] === $begins) {
            if (0 === $hands && $longest < $this->finish) {
                $this->finish = $longest;
                $this->slots = $this->toSlots($order);
            }

            return;
        }
        if (max($longest, $now + $hands) >= $this->finish) {
            return;
        }
        foreach ($this->branches($begins, $firstEnd, $next) as $number) {
            $part = $this->pieces[$number]->parts[$next[$number]];
            $begin = $begins[$number];
            $nextThen = $next;
            $readyThen = $ready;
            $leftThen = $left;
            ++$nextThen[$number];
            $readyThen[$number] = $begin + $part['hands'] + $part['wait'];
            if ($next[$number] === $this->pieces[$number]->leaves) {
                $leftThen[$number] = $readyThen[$number];
            }
            $this->look(
                $begin + $part['hands'],
                array_values($nextThen),
                array_values($readyThen),
                $leftThen,
                $done,
                [...$order, [$number, $next[$number], $begin]],
            );
        }
    }

    /**
     * @param list<int> $next  piece → its next part
     * @param list<int> $ready piece → when it can be gone on with
     *
     * @return array<int, int> task → its end, for tasks with no work left
     */
    private function finished(array $next, array $ready): array
    {
        return array_filter(
            $ready,
            fn (int $number): bool => !isset($this->pieces[$number]->parts[$next[$number]]),
            \ARRAY_FILTER_USE_KEY,
        );
    }

    /**
     * Which parts may come next: one that begins after another could be finished never has to.
     *
     * @param array<int, int> $begins   piece → when its next part can begin
     * @param int             $firstEnd when the first of them would be finished
     * @param list<int>       $next     piece → its next part
     *
     * @return list<int> pieces, the likeliest first
     */
    private function branches(array $begins, int $firstEnd, array $next): array
    {
        $worth = [];
        foreach ($begins as $number => $begin) {
            if ($begin < $firstEnd || $begin === min($begins)) {
                $worth[$number] = [$begin, -$this->path->from($number, $next[$number])];
            }
        }
        asort($worth);

        return array_keys($worth);
    }

    /**
     * The earliest start of a part; null if not known.
     *
     * @param list<int>       $next
     * @param array<int, int> $left
     * @param array<int, int> $done
     */
    private function begin(int $number, int $part, int $from, array $next, array $left, array $done): ?int
    {
        $piece = $this->pieces[$number];
        $from = max($from, $piece->parts[$part]['from']);
        foreach ($piece->parts[$part]['after'] as $before) {
            if (!isset($done[$before])) {
                return null;
            }
            $from = max($from, $done[$before]);
        }
        if ($part !== $piece->powers) {
            return $from;
        }
        foreach ($this->pieces as $other => $one) {
            if ($other === $number || $one->leaves < 0) {
                continue;
            }
            if (\in_array($one->lane, $piece->clear, true) || ($one->lane === $piece->lane && $other < $number)) {
                if (!isset($left[$other])) {
                    return null;
                }
                $from = max($from, $left[$other]);
            }
        }

        return $from;
    }

    /**
     * @param list<array{int, int, int}> $order
     *
     * @return list<Slot>
     */
    private function toSlots(array $order): array
    {
        $slots = [];
        foreach ($order as [$number, $at, $from]) {
            $part = $this->pieces[$number]->parts[$at];
            $to = $from + $part['hands'];
            $slots[] = [
                'device' => $this->pieces[$number]->device,
                'step' => $part['code'],
                'from' => $from,
                'to' => $to,
                'waits' => $to + $part['wait'],
            ];
        }

        return $slots;
    }
}
