<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Row;

/** A wait that was started: a device restarts, a reset runs. It runs by the clock. */
final readonly class RunningWait
{
    /** @param int $ends Unix time in seconds */
    private function __construct(public string $key, public string $device, public string $step, public int $ends, public string $by)
    {
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('device'),
            $row->text('step'),
            (int) strtotime($row->text('at')) + $row->int('seconds'),
            $row->text('by'),
        );
    }

    /** Seconds that are left; less than none when its time is up. */
    public function secondsLeft(int $now): int
    {
        return $this->ends - $now;
    }
}
