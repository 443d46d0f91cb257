<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Voice\Quality;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Socket\AudioLine;
use Vorhut\Socket\FaxLine;

/** The audio of a call, as lines of evidence. */
final class SoundReport
{
    /** @return list<string> */
    public static function lines(AudioLine $audio, ?FaxLine $fax): array
    {
        $lines = [self::received($audio->heard), self::reported($audio), self::score($audio->heard)];
        if (null !== $fax) {
            $lines[] = \sprintf('fax here: %d datagrams of the other end; %d sent', $fax->receivedCount(), $fax->sentCount());
        }

        return $lines;
    }

    private static function received(Reception $heard): string
    {
        return \sprintf(
            'sound here: %d of %d packets, jitter %.1f ms',
            $heard->receivedCount(),
            $heard->expectedCount(),
            $heard->jitter() / 8,
        );
    }

    /** What the other end says in its RTCP reports (RFC 3550 §6.4.1). */
    private static function reported(AudioLine $audio): string
    {
        $reported = $audio->reported;

        return null === $reported ? 'sound there: no report' : \sprintf(
            'sound there: up to packet %d of %d, %d lost, jitter %.1f ms (RTCP)',
            $reported->highest + 1,
            $audio->sentCount(),
            $reported->lost,
            $reported->jitter / 8,
        );
    }

    /** What the sound is worth (ITU-T G.107): by its loss, and by the delay of a buffer that takes the jitter up. */
    private static function score(Reception $heard): string
    {
        if (0 === $heard->receivedCount()) {
            return 'score here: nothing to be rated';
        }
        $loss = 100 * max(0, $heard->lostCount()) / max(1, $heard->expectedCount());
        $delay = 1000 * AudioLine::PACKET_SECONDS + 2 * $heard->jitter() / 8;
        $rating = Quality::rating($delay, $loss);

        return \sprintf(
            'score here: R %.1f, MOS %.2f (G.711, %.1f %% lost; the way itself is not in it)',
            $rating,
            Quality::score($rating),
            $loss,
        );
    }
}
