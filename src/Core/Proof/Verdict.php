<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/** Whether the requirement of a test is met, by fresh evidence. Whether the result was predicted is a separate question (TestResult). */
enum Verdict: string
{
    case Passed = 'passed';
    case Failed = 'failed';
    /** Not run, or without an answer because a device is not connected yet. */
    case NotRun = 'not-run';
    /** A fact of the test has changed since. */
    case Outdated = 'outdated';

    public function label(): string
    {
        return match ($this) {
            self::Passed => 'passed',
            self::Failed => 'failed',
            self::NotRun => 'not run',
            self::Outdated => 'outdated',
        };
    }
}
