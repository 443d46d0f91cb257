<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

/** Names in the order of their urgency, the most urgent first; of lists of numbers the greater one is the more urgent. */
final class Waiting
{
    /** @var \SplPriorityQueue<list<int>, string> */
    private \SplPriorityQueue $queue;

    public function __construct()
    {
        $this->queue = new \SplPriorityQueue();
        $this->queue->setExtractFlags(\SplPriorityQueue::EXTR_BOTH);
    }

    public function put(string $name, int ...$urgency): void
    {
        $this->queue->insert($name, array_values($urgency));
    }

    /** The urgency of the first one; null if the queue is empty. */
    public function first(): ?int
    {
        $top = $this->queue->isEmpty() ? null : $this->queue->top();

        return \is_array($top) && \is_array($top['priority']) ? (int) $top['priority'][0] : null;
    }

    /** Removes and returns the first one; null if the queue is empty. */
    public function take(): ?string
    {
        $top = $this->queue->isEmpty() ? null : $this->queue->extract();

        return \is_array($top) && \is_string($top['data']) ? $top['data'] : null;
    }
}
