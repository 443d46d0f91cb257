<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Net\Malformed;

/** How many calls at once a house needs: Erlang B (ITU-T E.501 §7), where who finds all lines taken goes away. */
final class Traffic
{
    public const BLOCKING = 0.01;
    private const MOST_LINES = 10_000;
    private const SECONDS = 3600;

    /** @param float $calls of the busy hour, each so many seconds long; in Erlang */
    public static function erlang(float $calls, float $seconds): float
    {
        return $calls * $seconds / self::SECONDS;
    }

    /** The share of calls that finds all lines taken. */
    public static function blocking(float $erlang, int $lines): float
    {
        if ($erlang <= 0) {
            return 0.0;
        }
        // The recursion keeps its figures small, where the formula itself has faculties in it.
        $share = 1.0;
        for ($n = 1; $n <= $lines; ++$n) {
            $share = $erlang * $share / ($n + $erlang * $share);
        }

        return $share;
    }

    /**
     * The fewest lines with which no more than a share of the calls is lost.
     *
     * @throws Malformed where no number of lines would do
     */
    public static function lines(float $erlang, float $blocking = self::BLOCKING): int
    {
        if ($erlang < 0 || !is_finite($erlang) || $erlang > self::MOST_LINES / 2 || $blocking <= 0 || $blocking >= 1) {
            throw new Malformed('Traffic is from 0 to 5000 Erlang, and the share of lost calls lies between 0 and 1.');
        }
        $share = 1.0;
        $lines = 0;
        while ($erlang > 0 && $share > $blocking) {
            ++$lines;
            $share = $erlang * $share / ($lines + $erlang * $share);
        }

        return $lines;
    }

    /** Lines by the plain share: one for so many phones, and no fewer than one. */
    public static function byShare(int $phones, int $phonesPerLine = 4): int
    {
        return max(1, (int) ceil($phones / max(1, $phonesPerLine)));
    }

    /** Ports of sound for calls at once: RTP and RTCP of each (RFC 3550 §11). */
    public static function mediaPorts(int $calls): int
    {
        return 2 * $calls;
    }
}
