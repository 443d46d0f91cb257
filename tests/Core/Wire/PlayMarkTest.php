<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Rtp\PlayMark;
use Vorhut\Core\Wire\Rtp\RtpPacket;

/** A header extension (RFC 3550 §5.3.1, RFC 8285 §4.2) that says that a packet is played. */
final class PlayMarkTest extends TestCase
{
    public function testItStandsInAPacketAndIsSkippedByWhoDoesNotKnowIt(): void
    {
        $mark = new PlayMark(20, Ipv4::fromString('239.192.1.7'));
        $bytes = (string) new RtpPacket(96, 7, 90_000, 0xABCDEF, 'pictures', false, $mark->extension());
        // X bit; profile BEDE, three words: id 1, four bytes; id 2, four bytes; two of padding.
        self::assertSame('9060000700015f9000abcdefbede0003130000001423efc001070000', bin2hex(substr($bytes, 0, -8)));
        $packet = RtpPacket::fromString($bytes);
        self::assertSame('pictures', $packet->payload);
        self::assertEquals($mark, PlayMark::of($packet));
        self::assertSame($bytes, (string) $packet);
    }

    public function testAnythingElseIsNoMark(): void
    {
        foreach ([
            null, "\x10\x00\x13\0\0\0\x14", "\xBE\xDE", "\xBE\xDE\x13\0\0\0\x14\x23\xEF", "\xBE\xDE\x13\0\0\0\x14\0\0\0",
            "\xBE\xDE\x13\0\0\0\0\x23\xEF\xC0\1\7", "\xBE\xDE\xF3\0\0\0\x14\x23\xEF\xC0\1\7",
        ] as $extension) {
            self::assertNull(PlayMark::of(new RtpPacket(96, 1, 1, 1, '', false, $extension)));
        }
        $plain = new PlayMark(1, Ipv4::fromString('239.192.1.7'));
        self::assertEquals($plain, PlayMark::of(new RtpPacket(96, 1, 1, 1, '', false, $plain->extension())), 'played as it is');
        $padded = new RtpPacket(96, 1, 1, 1, '', false, "\xBE\xDE\0\0\x50\xAA\x13\0\0\0\x14\x23\xEF\xC0\1\7");
        self::assertSame(20, PlayMark::of($padded)?->scale, 'other elements and padding before it');
    }
}
