<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** The outcome of a step of a run sheet; `Open` is a step without one, and is never stored. */
enum MarkState: string
{
    case Open = 'open';
    case Done = 'done';
    case Skipped = 'skipped';
    case Failed = 'failed';
    case Blocked = 'blocked';

    /** Whether the technician has to say why. */
    public function needsReason(): bool
    {
        return match ($this) {
            self::Skipped, self::Failed, self::Blocked => true,
            self::Open, self::Done => false,
        };
    }

    /** Whether later steps need not wait for the step any more. */
    public function isSettled(): bool
    {
        return self::Done === $this || self::Skipped === $this;
    }

    /** @return list<string> the states that a job stores */
    public static function stored(): array
    {
        return array_column(array_filter(self::cases(), static fn (self $state): bool => self::Open !== $state), 'value');
    }
}
