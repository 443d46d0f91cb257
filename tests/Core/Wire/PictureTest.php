<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Picture;

final class PictureTest extends TestCase
{
    /** The smallest frame and scan that say how large it is: 3 by 2, one component. */
    private const FRAME = "\xFF\xC0\x00\x0B\x08\x00\x02\x00\x03\x01\x01\x11\x00";
    private const SCAN = "\xFF\xDA\x00\x08\x01\x01\x00\x00\x3F\x00\xAB\xFF\x00\xCD";

    private static function jpeg(string $segments, string $behind = ''): string
    {
        return "\xFF\xD8".$segments.self::FRAME.self::SCAN."\xFF\xD9".$behind;
    }

    private static function exif(string $endian, int $turned): string
    {
        [$s, $l] = 'II' === $endian ? ['v', 'V'] : ['n', 'N'];
        $value = 'II' === $endian ? pack('vv', $turned, 0) : pack('nn', $turned, 0);
        // Two entries: which way is up, and where the block with the place is.
        $tiff = $endian.pack($s.$l.$s, 42, 8, 2).pack($s.$s.$l, 0x0112, 3, 1).$value.pack($s.$s.$l.$l, 0x8825, 4, 1, 50).pack($l, 0)
            .'GPS 60.39 N 5.32 E';

        return "\xFF\xE1".pack('n', 8 + \strlen($tiff))."Exif\0\0".$tiff;
    }

    private static function chunk(string $name, string $data): string
    {
        return pack('N', \strlen($data)).$name.$data.hash('crc32b', $name.$data, true);
    }

    private static function png(): string
    {
        return "\x89PNG\r\n\x1a\n".self::chunk('IHDR', pack('NNCCCCC', 3, 2, 8, 2, 0, 0, 0)).self::chunk('tEXt', "Place\0quay 4")
            .self::chunk('eXIf', 'GPS').self::chunk('tIME', 'now').self::chunk('IDAT', 'xyz').self::chunk('IEND', '').'behind';
    }

    public function testOfAPhotoOnlyThePictureIsKept(): void
    {
        $jfif = "\xFF\xE0\x00\x13JFIF\0\x01\x02\0\0\x01\0\x01\x01\x01\xAA\xBB\xCC";
        $xmp = "\xFF\xE1".pack('n', 2 + 33)."http://ns.adobe.com/xap/1.0/\0GPS!";
        $comment = "\xFF\xFE\x00\x08Mobile";
        $maker = "\xFF\xED\x00\x06IPTC";
        $picture = Picture::fromBytes(self::jpeg($jfif.self::exif('MM', 6).$xmp.$comment.$maker, 'GPS again'));

        self::assertSame(['image/jpeg', 3, 2], [$picture->mediaType, $picture->width, $picture->height]);
        foreach (['GPS', 'Mobile', 'IPTC', 'ns.adobe', 'again', "\xAA\xBB\xCC"] as $gone) {
            self::assertStringNotContainsString($gone, $picture->bytes);
        }
        self::assertStringEndsWith(self::FRAME.self::SCAN."\xFF\xD9", $picture->bytes);
        self::assertSame(Picture::fromBytes($picture->bytes)->bytes, $picture->bytes, 'nothing more to take away');
    }

    public function testWhichWayIsUpIsKept(): void
    {
        foreach (['II', 'MM'] as $endian) {
            foreach ([1, 3, 6, 8] as $turned) {
                $bytes = Picture::fromBytes(self::jpeg(self::exif($endian, $turned)))->bytes;
                $stream = fopen('php://memory', 'r+');
                self::assertIsResource($stream);
                fwrite($stream, $bytes);
                rewind($stream);
                $read = @exif_read_data($stream);
                self::assertSame(1 === $turned ? null : $turned, \is_array($read) ? $read['Orientation'] ?? null : null, "$endian $turned");
            }
        }
        self::assertStringNotContainsString('Exif', Picture::fromBytes(self::jpeg(self::exif('II', 9)))->bytes);
    }

    public function testTablesBetweenScansMayHoldAnyBytes(): void
    {
        $whole = substr(self::jpeg(''), 0, -2)."\xFF\xC4\x00\x06\xFF\xD9\xFF\xD9".self::SCAN."\xFF\xD0\x12\xFF\xD9";
        self::assertSame($whole, Picture::fromBytes($whole.'behind')->bytes);
    }

    public function testOfAPngNoTextNoTimeNoPlace(): void
    {
        $picture = Picture::fromBytes(self::png());
        self::assertSame(['image/png', 3, 2], [$picture->mediaType, $picture->width, $picture->height]);
        self::assertDoesNotMatchRegularExpression('/quay|GPS|now|behind/', $picture->bytes);
        self::assertStringContainsString('xyz', $picture->bytes);
    }

    /** @return iterable<string, array{string}> */
    public static function noPictures(): iterable
    {
        yield 'nothing' => [''];
        yield 'a page' => ['<svg onload=alert(1)>'];
        yield 'a page behind a beginning' => ["\xFF\xD8\xFF<script>"];
        yield 'one that breaks off' => [substr(self::jpeg(''), 0, -3)];
        yield 'a segment longer than the file' => ["\xFF\xD8\xFF\xE1\xFF\xFFExif"];
        yield 'a segment of no length' => ["\xFF\xD8\xFF\xE1\x00\x00Exif"];
        yield 'nothing but filling' => ["\xFF\xD8".str_repeat("\xFF", 4000)];
        yield 'a moving picture' => ["GIF89a\x01\x00\x01\x00"];
        yield 'a chunk longer than the file' => ["\x89PNG\r\n\x1a\n\xFF\xFF\xFF\xFFIHDR".str_repeat('x', 40)];
        yield 'tables without an end' => [substr(self::jpeg(''), 0, -2)."\xFF\xC4\x00\x40\xFF\xD9"];
        yield 'a place between two scans' => [substr(self::jpeg(''), 0, -2)."\xFF\xE1\x00\x05GPS\xFF\xD9"];
        yield 'too large' => [self::jpeg('').str_repeat("\0", Picture::LARGEST)];
        yield 'a wall' => ["\x89PNG\r\n\x1a\n".self::chunk('IHDR', pack('NNCCCCC', 2_000_000, 2, 8, 2, 0, 0, 0)).self::chunk('IEND', '')];
    }

    #[DataProvider('noPictures')]
    public function testWhatIsNoPhotoIsNotTaken(string $bytes): void
    {
        $this->expectException(ParseError::class);
        Picture::fromBytes($bytes);
    }

    public function testDamagedOnesAreReadOrRefusedAndNeverKeepThePlace(): void
    {
        $random = new Randomizer(new Xoshiro256StarStar(7));
        $kept = 0;
        foreach ([self::jpeg(self::exif('II', 6)), self::png()] as $whole) {
            for ($n = 0; $n < 1500; ++$n) {
                $bytes = $whole;
                for ($k = $random->getInt(1, 4); $k > 0; --$k) {
                    $bytes[$random->getInt(3, \strlen($bytes) - 1)] = \chr($random->getInt(0, 255));
                }
                try {
                    Picture::fromBytes($bytes);
                    ++$kept;
                } catch (ParseError) {
                    continue;
                }
            }
        }
        self::assertGreaterThan(100, $kept);
    }
}
