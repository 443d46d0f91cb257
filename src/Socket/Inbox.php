<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\CancelledException;
use Amp\DeferredFuture;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;

/** Datagrams that came by several sockets and are taken at one place, in the order in which they came. */
final class Inbox
{
    /** Data without a reader is dropped, as a kernel drops it. */
    private const KEPT = 2000;

    /** @var \SplQueue<array{Ipv4, int, string}> */
    private readonly \SplQueue $waiting;
    /** @var DeferredFuture<null>|null */
    private ?DeferredFuture $bell = null;
    private bool $closed = false;

    public function __construct()
    {
        $this->waiting = new \SplQueue();
    }

    /** @param array{Ipv4, int, string} $datagram */
    public function put(array $datagram): void
    {
        if (\count($this->waiting) < self::KEPT) {
            $this->waiting->enqueue($datagram);
            $this->ring();
        }
    }

    /** @return array{Ipv4, int, string}|null null once it is closed or the time is up */
    public function take(?float $seconds = null): ?array
    {
        $until = null === $seconds ? null : microtime(true) + $seconds;
        while ($this->waiting->isEmpty() && !$this->closed) {
            /** @var DeferredFuture<null> $bell */
            $bell = $this->bell ?? new DeferredFuture();
            $this->bell = $bell;
            try {
                $bell->getFuture()->await(null === $until ? null : new TimeoutCancellation(max(0.0, $until - microtime(true))));
            } catch (CancelledException) {
                return null;
            }
        }

        return $this->waiting->isEmpty() ? null : $this->waiting->dequeue();
    }

    public function close(): void
    {
        $this->closed = true;
        $this->ring();
    }

    private function ring(): void
    {
        $bell = $this->bell;
        $this->bell = null;
        $bell?->complete(null);
    }
}
