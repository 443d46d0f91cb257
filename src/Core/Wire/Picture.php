<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire;

/**
 * A photo as it may be kept: JPEG (ITU-T T.81) or PNG (ISO/IEC 15948), without anything but the picture. Where and with what it was taken,
 * who owns the camera, and whatever hangs behind its end are gone; only which way is up is kept.
 */
final readonly class Picture
{
    /** In bytes; a phone's camera writes a half of it. */
    public const LARGEST = 12_000_000;
    /** In pixels of each side. */
    private const WIDEST = 20_000;

    private const PNG = "\x89PNG\r\n\x1a\n";
    /** What a picture is made of, and what its colours mean; no text, no times, no EXIF. */
    private const CHUNKS = ['IHDR', 'PLTE', 'IDAT', 'IEND', 'tRNS', 'gAMA', 'cHRM', 'sRGB', 'sBIT'];

    private function __construct(public string $mediaType, public string $bytes, public int $width, public int $height)
    {
    }

    /** @throws ParseError if it is not such a picture, or too large */
    public static function fromBytes(string $bytes): self
    {
        if (\strlen($bytes) > self::LARGEST) {
            throw ParseError::because('A photo has at most {n} MB.', ['n' => intdiv(self::LARGEST, 1_000_000)]);
        }
        [$type, $clean] = match (true) {
            str_starts_with($bytes, "\xFF\xD8\xFF") => ['image/jpeg', self::jpeg($bytes)],
            str_starts_with($bytes, self::PNG) => ['image/png', self::png($bytes)],
            default => throw ParseError::because('The file is not a photo: use JPEG or PNG.'),
        };
        $size = @getimagesizefromstring($clean);
        if (false === $size || $size['mime'] !== $type || $size[0] < 1 || max($size[0], $size[1]) > self::WIDEST) {
            throw ParseError::because('The photo cannot be read.');
        }

        return new self($type, $clean, $size[0], $size[1]);
    }

    private static function jpeg(string $bytes): string
    {
        $kept = '';
        $turned = 1;
        $at = 2;
        $length = \strlen($bytes);
        while ($at + 4 <= $length) {
            if ("\xFF" !== $bytes[$at]) {
                break;
            }
            $marker = \ord($bytes[$at + 1]);
            if (0xFF === $marker) {
                ++$at;
                continue;
            }
            $size = \ord($bytes[$at + 2]) << 8 | \ord($bytes[$at + 3]);
            if ($size < 2 || $at + 2 + $size > $length) {
                break;
            }
            $segment = substr($bytes, $at, 2 + $size);
            if (0xDA === $marker) {
                $end = self::endOfScans($bytes, $at);

                return "\xFF\xD8".self::orientationSegment($turned).$kept.substr($bytes, $at, $end - $at)."\xFF\xD9";
            }
            if (0xE1 === $marker) {
                $turned = self::orientation(substr($segment, 4)) ?? $turned;
            } elseif (0xFE !== $marker && ($marker < 0xE0 || $marker > 0xEF || 0xE0 === $marker || 0xEE === $marker)) {
                // Of the segments of applications only what says how colours are written (JFIF, and the sort of transform).
                $kept .= 0xE0 === $marker ? self::withoutThumbnail($segment) : $segment;
            }
            $at += 2 + $size;
        }

        throw ParseError::because('The photo cannot be read.');
    }

    /** Where the last scan ends: data after it is not part of the picture. Between scans there are tables, which may hold any bytes. */
    private static function endOfScans(string $bytes, int $at): int
    {
        while (false !== $at = strpos($bytes, "\xFF", $at)) {
            $marker = \ord($bytes[$at + 1] ?? "\0");
            if (0xD9 === $marker) {
                return $at;
            }
            // A byte of the picture itself, a mark to begin anew at, or filling.
            $isData = 0 === $marker || ($marker >= 0xD0 && $marker <= 0xD7) || 0xFF === $marker;
            $size = $isData ? 0 : \ord($bytes[$at + 2] ?? "\0") << 8 | \ord($bytes[$at + 3] ?? "\0");
            if (!$isData && ($size < 2 || $at + 2 + $size > \strlen($bytes) || ($marker >= 0xE0 && $marker <= 0xEF) || 0xFE === $marker)) {
                break;
            }
            $at += 0xFF === $marker ? 1 : 2 + $size;
        }

        throw ParseError::because('The photo breaks off.');
    }

    private static function withoutThumbnail(string $segment): string
    {
        return "JFIF\0" === substr($segment, 4, 5) && \strlen($segment) >= 18
            ? "\xFF\xE0\x00\x10".substr($segment, 4, 12)."\0\0"
            : '';
    }

    /** Which way is up (EXIF tag 0x0112, 1 to 8), found in the first directory of a TIFF block; null where nothing sound says it. */
    private static function orientation(string $app): ?int
    {
        if (!str_starts_with($app, "Exif\0\0") || \strlen($app) < 22) {
            return null;
        }
        $tiff = substr($app, 6);
        $little = str_starts_with($tiff, 'II');
        $number = static function (int $at, int $bytes) use ($tiff, $little): int {
            $part = substr($tiff, $at, $bytes);

            return (int) hexdec(bin2hex($little ? strrev($part) : $part));
        };
        $directory = $number(4, 4);
        $entries = $directory + 2 > \strlen($tiff) ? 0 : min(64, $number($directory, 2));
        for ($i = 0; $i < $entries; ++$i) {
            $entry = $directory + 2 + 12 * $i;
            if ($entry + 12 > \strlen($tiff)) {
                return null;
            }
            if (0x0112 === $number($entry, 2)) {
                $turned = $number($entry + 8, 2);

                return $turned >= 1 && $turned <= 8 ? $turned : null;
            }
        }

        return null;
    }

    /** One directory with one entry, made anew. */
    private static function orientationSegment(int $turned): string
    {
        $tiff = 'II'.pack('vVvvvVvvV', 42, 8, 1, 0x0112, 3, 1, $turned, 0, 0);

        return 1 === $turned ? '' : "\xFF\xE1".pack('n', 8 + \strlen($tiff))."Exif\0\0".$tiff;
    }

    private static function png(string $bytes): string
    {
        $kept = self::PNG;
        $at = \strlen(self::PNG);
        while ($at + 12 <= \strlen($bytes)) {
            $head = unpack('N', substr($bytes, $at, 4));
            $size = \is_array($head) && \is_int($head[1]) ? $head[1] : 0;
            if ($size > \strlen($bytes) - $at - 12) {
                break;
            }
            $name = substr($bytes, $at + 4, 4);
            $chunk = substr($bytes, $at, 12 + $size);
            if (substr($chunk, -4) !== hash('crc32b', substr($chunk, 4, -4), true)) {
                break;
            }
            $kept .= \in_array($name, self::CHUNKS, true) ? $chunk : '';
            if ('IEND' === $name) {
                return $kept;
            }
            $at += 12 + $size;
        }

        throw ParseError::because('The photo breaks off.');
    }
}
