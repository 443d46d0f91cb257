<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Revolt\EventLoop;
use Vorhut\Journal\Outage;

/** A process that works until it is stopped, and looks at the database now and then; while that is away, it goes on with what it knows. */
final readonly class LongRun
{
    public function __construct(private Outage $outage)
    {
    }

    /**
     * @param float                  $every   seconds from look to look
     * @param int                    $seconds after which it stops by itself; 0 for never
     * @param \Closure(): void       $look
     * @param \Closure(string): void $say
     * @param \Closure(): string     $begun   text to print after the first check
     */
    public function go(float $every, int $seconds, \Closure $look, \Closure $say, \Closure $begun): void
    {
        $once = function () use ($look, $say): void {
            $this->outage->afresh();
            try {
                $look();
                $well = $this->outage->isOver();
                if (null !== $well) {
                    $say($well);
                }
            } catch (\Throwable $e) {
                // Runs that have begun go on; the next check sees later changes.
                $why = $this->outage->report($e);
                if (null !== $why) {
                    $say($why);
                }
            }
        };
        $once();
        $stop = static fn () => EventLoop::getDriver()->stop();
        $callbacks = [
            EventLoop::repeat($every, $once),
            EventLoop::onSignal(\SIGTERM, $stop),
            EventLoop::onSignal(\SIGINT, $stop),
        ];
        if ($seconds > 0) {
            $callbacks[] = EventLoop::delay($seconds, $stop);
        }
        $say($begun());
        try {
            EventLoop::run();
        } finally {
            // Another command of this process may use the event loop after this one.
            array_map(EventLoop::cancel(...), $callbacks);
        }
    }
}
