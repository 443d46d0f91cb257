<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Psr\Clock\ClockInterface;

/** The time of the server, as records store it. */
final readonly class JournalClock
{
    public function __construct(
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string $moved as \DateTimeImmutable::modify() takes it
     *
     * @return string UTC, `2026-03-02T09:30:00Z`
     */
    public function now(string $moved = '+0 days'): string
    {
        return $this->clock->now()->modify($moved)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }
}
