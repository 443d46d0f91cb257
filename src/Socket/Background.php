<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\Future;

use function Amp\async;

/**
 * Work without a caller that waits for it. Its errors are reported, not swallowed: a hidden fault of our own would look like a device that
 * does not answer.
 */
final class Background
{
    /** @var (\Closure(string, \Throwable): void)|null */
    private static ?\Closure $report = null;

    /** @param (\Closure(string, \Throwable): void)|null $report called with the task and its error; null for the error log */
    public static function reportTo(?\Closure $report): void
    {
        self::$report = $report;
    }

    /**
     * @param string          $what name of the task, for the report
     * @param \Closure(): mixed $work
     */
    public static function run(string $what, \Closure $work): void
    {
        self::watch($what, async($work));
    }

    /** @param Future<mixed> $work with or without a caller that waits for it */
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
