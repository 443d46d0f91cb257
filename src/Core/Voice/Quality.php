<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

/** How a call sounds and what it takes: E-model (ITU-T G.107) and bit rates per direction at 20 ms packets. */
final class Quality
{
    /** Equipment impairment and robustness against loss: codec → Ie, Bpl (ITU-T G.113). */
    private const CODECS = ['G.711' => [0.0, 4.3], 'G.711 PLC' => [0.0, 25.1], 'G.729A' => [11.0, 19.0]];
    private const PAYLOAD = ['G.711' => 160, 'G.722' => 160, 'G.729' => 20];

    /** @return list<string> codecs whose sound can be rated */
    public static function ratedCodecs(): array
    {
        return array_keys(self::CODECS);
    }

    /** @return list<string> codecs whose bit rate is known */
    public static function knownBitRates(): array
    {
        return array_keys(self::PAYLOAD);
    }

    /**
     * The transmission rating R.
     *
     * @param float $delay      one way, mouth to ear, in ms
     * @param float $loss       in percent
     * @param float $burstRatio 1 for random loss
     */
    public static function rating(float $delay, float $loss, string $codec = 'G.711', float $burstRatio = 1.0): float
    {
        [$ie, $bpl] = self::CODECS[$codec] ?? throw new \InvalidArgumentException(\sprintf('Nothing is known of the codec "%s".', $codec));
        $id = 0.024 * $delay + ($delay > 177.3 ? 0.11 * ($delay - 177.3) : 0.0);

        return 93.2 - $id - ($ie + (95 - $ie) * $loss / ($loss / $burstRatio + $bpl));
    }

    /** The mean opinion score for a rating, 1 to 4.5. */
    public static function score(float $rating): float
    {
        return match (true) {
            $rating <= 0 => 1.0,
            $rating >= 100 => 4.5,
            default => max(1.0, 1 + 0.035 * $rating + $rating * ($rating - 60) * (100 - $rating) * 7e-6),
        };
    }

    /**
     * kbit/s in one direction: as IP packets, on Ethernet with header and check sum, on the link with VLAN tag, preamble and gap.
     *
     * @return array{ip: float, ethernet: float, wire: float}
     */
    public static function rate(string $codec): array
    {
        $payload = self::PAYLOAD[$codec] ?? throw new \InvalidArgumentException(\sprintf('Nothing is known of the codec "%s".', $codec));
        $kbit = static fn (int $bytes): float => $bytes * 8 * 50 / 1000;

        return ['ip' => $kbit($payload + 40), 'ethernet' => $kbit($payload + 40 + 18), 'wire' => $kbit($payload + 40 + 18 + 4 + 20)];
    }
}
