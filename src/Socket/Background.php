<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\Future;

use function Amp\async;

/**
 * Work that nobody waits for. What goes wrong in it is told, not swallowed: a fault of our own that shows nowhere is taken for a device
 * that does not answer.
 */
final class Background
{
    /** @var (\Closure(string, \Throwable): void)|null */
    private static ?\Closure $report = null;

    /** @param (\Closure(string, \Throwable): void)|null $report hears what was worked at and what went wrong; null for the error log */
    public static function reportTo(?\Closure $report): void
    {
        self::$report = $report;
    }

    /**
     * @param string          $what what is worked at, for the report
     * @param \Closure(): mixed $work
     */
    public static function run(string $what, \Closure $work): void
    {
        self::watch($what, async($work));
    }

    /** @param Future<mixed> $work that somebody may or may not wait for */
    public static function watch(string $what, Future $work): void
    {
        $work->catch(static fn (\Throwable $e) => self::report($what, $e))->ignore();
    }

    public static function report(string $what, \Throwable $e): void
    {
        if (null === self::$report) {
            error_log(self::line($what, $e));
        } else {
            (self::$report)($what, $e);
        }
    }

    public static function line(string $what, \Throwable $e): string
    {
        return \sprintf('%s: %s: %s (%s:%d)', $what, $e::class, $e->getMessage(), basename($e->getFile()), $e->getLine());
    }
}
