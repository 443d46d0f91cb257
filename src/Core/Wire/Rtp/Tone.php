<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

/** A sine tone in G.711 µ-law (ITU-T G.711), 20 ms a packet at 8000 Hz. */
final class Tone
{
    public const SAMPLES = 160;

    /** The nth 20 ms of a tone. */
    public static function packet(int $hertz, int $n): string
    {
        $bytes = '';
        for ($i = 0; $i < self::SAMPLES; ++$i) {
            $bytes .= \chr(self::encode((int) round(8000 * sin(2 * \M_PI * $hertz * ($n * self::SAMPLES + $i) / 8000))));
        }

        return $bytes;
    }

    /** A 16 bit sample in µ-law. */
    public static function encode(int $sample): int
    {
        $sign = $sample < 0 ? 0x80 : 0;
        $value = min(abs($sample), 32635) + 0x84;
        $exponent = 7;
        for ($bit = 0x4000; $exponent > 0 && 0 === ($value & $bit); $bit >>= 1) {
            --$exponent;
        }

        return ~($sign | $exponent << 4 | $value >> ($exponent + 3) & 15) & 255;
    }
}
