<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Socket\AudioLine;

/** Sound of an outpost: RTP on an even port that is free there, RTCP on the next one (RFC 3550 §11). */
final class MediaLine
{
    private const FIRST_PORT = 40000;
    private const PAIRS = 500;
    private const TRIES = 20;
    /** Hertz of the tone that it sends. */
    private const TONE = 500;

    /** @throws \RuntimeException where no pair of ports is free */
    public static function open(NetworkAccess $access, VantagePoint $place): AudioLine
    {
        for ($try = 0; $try < self::TRIES; ++$try) {
            $port = self::FIRST_PORT + 2 * random_int(0, self::PAIRS - 1);
            $media = null;
            try {
                $media = $access->datagrams($place->address, $port);

                return new AudioLine($media, $access->datagrams($place->address, $port + 1), self::TONE, random_int(1, 0x7FFFFFFF));
            } catch (\Throwable) {
                $media?->close();
            }
        }
        throw new \RuntimeException('No media port is free on this machine.');
    }
}
