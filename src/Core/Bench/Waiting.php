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

    /** How urgent the first is; null where nobody waits. */
    public function first(): ?int
    {
        $top = $this->queue->isEmpty() ? null : $this->queue->top();

        return \is_array($top) && \is_array($top['priority']) ? (int) $top['priority'][0] : null;
    }

    /** The first, which waits no more; null where nobody waits. */
    public function take(): ?string
    {
        $top = $this->queue->isEmpty() ? null : $this->queue->extract();

        return \is_array($top) && \is_string($top['data']) ? $top['data'] : null;
    }
}
