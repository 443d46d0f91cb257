<?php

declare(strict_types=1);

namespace Vorhut\Core\Media;

/** Bit rates of video and audio: the network load, and the usual values. */
final class PictureRate
{
    /** Bits per pixel of 4:2:2 at 10 bit. */
    private const UNCOMPRESSED_BITS = 20;
    /** Headers over the active picture. */
    private const HEADERS = 1.04;
    /** Intra-frame coding is taken as 8 : 1, between 6 and 10. */
    private const INTRA = 8;
    /** Bits per pixel and frame of camera pictures, least and most. */
    private const USUAL = ['H.264' => [0.06, 0.12], 'H.265' => [0.035, 0.07]];
    /** H.265 needs so much of H.264 for like quality. */
    private const LIKE = 0.55;
    private const AUDIO_RATE = 48000;
    /** IP, UDP and RTP; Ethernet with its check; preamble and gap. */
    private const WIRE_BYTES = 40 + 18 + 20;

    /** kbit/s of the active picture. */
    public static function active(int $width, int $height, float $fps): float
    {
        return $width * $height * $fps * self::UNCOMPRESSED_BITS / 1000;
    }

    /** Network load in kbit/s. */
    public static function uncompressedRate(int $width, int $height, float $fps): float
    {
        return self::active($width, $height, $fps) * self::HEADERS;
    }

    public static function intra(int $width, int $height, float $fps): float
    {
        return self::active($width, $height, $fps) / self::INTRA;
    }

    /** @return array{float, float}|null kbit/s that are usual for this size, least and most; null for a codec that has no such range */
    public static function usual(string $codec, int $width, int $height, float $fps): ?array
    {
        $range = self::USUAL[$codec] ?? null;

        return null === $range ? null : array_map(static fn (float $bits): float => $bits * $width * $height * $fps / 1000, $range);
    }

    /** The rate of H.265 that looks like one of H.264. */
    public static function likeInH265(float $kbit): float
    {
        return $kbit * self::LIKE;
    }

    /** kbit/s of L24 sound itself. */
    public static function soundPayload(int $channels): float
    {
        return $channels * 24 * self::AUDIO_RATE / 1000;
    }

    /** Network load in kbit/s of L24 audio in packets of so many ms (AES67-2018 §7). */
    public static function sound(int $channels, float $packetMs = 1.0): float
    {
        $payload = $channels * 3 * self::AUDIO_RATE * $packetMs / 1000;

        return ($payload + self::WIRE_BYTES) * 8 / $packetMs;
    }
}
