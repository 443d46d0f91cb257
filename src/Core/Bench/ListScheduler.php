<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/**
 * List scheduling: whenever a person is free, they take the task, of those that can be done now, on which the most depends. Near linear in
 * the number of steps.
 *
 * @phpstan-type Slot array{device: string, step: string, from: int, to: int, waits: int}
 */
final class ListScheduler
{
    /** @var list<Slot> */
    public array $slots = [];
    public int $finish = 0;
    /** @var list<int> pieces that were begun although what they wait for was not there: they wait for one another in a circle */
    public array $forced = [];

    /** @var array<int, int> piece → its next part */
    private array $next;
    private Waiting $ready;
    /** When what happens: a piece can go on ("7"), is finished ("!7"), or leaves its lane ("#7"). */
    private Waiting $coming;
    private Waiting $portless;
    /** @var array<int, list<int>> piece → pieces that wait until it is finished */
    private array $waitFinish = [];
    /** @var array<int, list<int>> lane → pieces that wait until it is free */
    private array $waitLane = [];
    /** @var array<int, list<int>> lane → pieces that wait until all have left it */
    private array $waitClear = [];
    /** @var array<int, int> lane → the piece that holds it */
    private array $holds = [];
    /** @var array<int, list<int>> lane → its pieces in their order */
    private array $inLane = [];
    /** @var array<int, int> lane → how many of them have left it */
    private array $gone = [];
    /** @var array<int, true> pieces that have left their lane */
    private array $left = [];
    /** @var array<int, true> */
    private array $finished = [];
    private float $watts = 0.0;

    /** @param list<BenchTask> $pieces */
    private function __construct(
        private readonly array $pieces,
        private readonly CriticalPath $path,
        private readonly BenchRoom $room,
    ) {
        $this->next = array_fill(0, \count($pieces), 0);
        $this->ready = new Waiting();
        $this->coming = new Waiting();
        $this->portless = new Waiting();
    }

    /** @param list<BenchTask> $pieces in the order of their lanes */
    public static function of(array $pieces, CriticalPath $path, BenchRoom $room): self
    {
        $dispatch = new self($pieces, $path, $room);
        $dispatch->run();

        return $dispatch;
    }

    private function run(): void
    {
        foreach ($this->pieces as $number => $piece) {
            if ($piece->leaves >= 0) {
                $this->inLane[$piece->lane][] = $number;
            }
            if ($piece->isUp && $piece->leaves >= 0) {
                $this->holds[$piece->lane] = $number;
                $this->watts += $piece->watts;
            }
            $this->coming->put([] === $piece->parts ? '!'.$number : (string) $number, -$piece->from);
        }
        /** @var \SplMinHeap<int> $free the times at which each person is free */
        $free = new \SplMinHeap();
        for ($i = 0; $i < $this->room->people; ++$i) {
            $free->insert(0);
        }
        while (true) {
            $now = $free->extract();
            while (null !== $this->coming->first() && -$this->coming->first() <= $now) {
                $this->happens((string) $this->coming->take());
            }
            $piece = $this->ready->take();
            if (null === $piece) {
                $then = $this->coming->first();
                if (null !== $then) {
                    $free->insert(-$then);
                } elseif ($this->unlockOne()) {
                    $free->insert($now);
                } else {
                    return;
                }
                continue;
            }
            $free->insert($this->begins((int) $piece, $now) ? $this->work((int) $piece, $now) : $now);
        }
    }

    private function happens(string $what): void
    {
        $number = (int) ltrim($what, '!#');
        if ('!' === $what[0]) {
            $this->finished[$number] = true;
            $this->again($this->waitFinish, $number);
        } elseif ('#' === $what[0]) {
            $lane = $this->pieces[$number]->lane;
            unset($this->holds[$lane]);
            $this->watts -= $this->pieces[$number]->watts;
            $this->again($this->waitLane, $lane);
            $this->left[$number] = true;
            $this->gone[$lane] ??= 0;
            while (isset($this->left[$this->firstOf($lane) ?? -1])) {
                ++$this->gone[$lane];
            }
            if (null === $this->firstOf($lane)) {
                $this->again($this->waitClear, $lane);
            }
            $one = $this->portless->take();
            if (null !== $one) {
                $this->put((int) $one);
            }
        } else {
            $this->put($number);
        }
    }

    /** The first in a lane that has not left it. */
    private function firstOf(int $lane): ?int
    {
        return $this->inLane[$lane][$this->gone[$lane] ?? 0] ?? null;
    }

    /** @param array<int, list<int>> $waiting */
    private function again(array &$waiting, int $for): void
    {
        foreach ($waiting[$for] ?? [] as $piece) {
            $this->put($piece);
        }
        unset($waiting[$for]);
    }

    private function put(int $piece): void
    {
        $this->ready->put((string) $piece, $this->path->from($piece, $this->next[$piece]), -$this->pieces[$piece]->lane, -$piece);
    }

    /** Whether its next part can be begun; where not, it is put where it waits. */
    private function begins(int $piece, int $now): bool
    {
        $one = $this->pieces[$piece];
        $part = $this->next[$piece];
        if ($one->parts[$part]['from'] > $now) {
            $this->coming->put((string) $piece, -$one->parts[$part]['from']);

            return false;
        }
        if (\in_array($piece, $this->forced, true)) {
            return true;
        }
        foreach ($one->parts[$part]['after'] as $before) {
            if (!isset($this->finished[$before])) {
                $this->waitFinish[$before][] = $piece;

                return false;
            }
        }
        if ($part !== $one->powers) {
            return true;
        }
        foreach ($one->clear as $lane) {
            if (null !== $this->firstOf($lane)) {
                $this->waitClear[$lane][] = $piece;

                return false;
            }
        }
        if (isset($this->holds[$one->lane]) || $piece !== $this->firstOf($one->lane)) {
            $this->waitLane[$one->lane][] = $piece;

            return false;
        }
        $watts = null !== $this->room->watts && [] !== $this->holds && $this->watts + $one->watts > $this->room->watts;
        if ($watts || \count($this->holds) >= $this->room->ports) {
            $this->portless->put((string) $piece, $this->path->from($piece, $part), -$one->lane, -$piece);

            return false;
        }
        $this->holds[$one->lane] = $piece;
        $this->watts += $one->watts;

        return true;
    }

    /** @return int when the hands are free again */
    private function work(int $piece, int $now): int
    {
        $one = $this->pieces[$piece];
        $part = $this->next[$piece]++;
        ['code' => $code, 'hands' => $hands, 'wait' => $wait] = $one->parts[$part];
        $to = $now + $hands;
        $done = $to + $wait;
        $this->slots[] = ['device' => $one->device, 'step' => $code, 'from' => $now, 'to' => $to, 'waits' => $done];
        $this->finish = max($this->finish, $done);
        if ($part === $one->leaves) {
            $this->coming->put('#'.$piece, -$done);
        }
        $this->coming->put(isset($one->parts[$part + 1]) ? (string) $piece : '!'.$piece, -$done);

        return $to;
    }

    /** When nothing can go on although there is work: the first of those that wait is begun all the same. */
    private function unlockOne(): bool
    {
        $waiting = array_merge([], ...$this->waitFinish, ...$this->waitClear, ...$this->waitLane);
        if ([] === $waiting) {
            return false;
        }
        $piece = min($waiting);
        foreach ([&$this->waitFinish, &$this->waitClear, &$this->waitLane] as &$queues) {
            foreach ($queues as $for => $pieces) {
                $queues[$for] = array_values(array_diff($pieces, [$piece]));
            }
        }
        $this->forced[] = $piece;
        $this->put($piece);

        return true;
    }
}
