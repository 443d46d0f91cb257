<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtp\KeyPresses;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\RtpPacket;
use Vorhut\Core\Wire\Rtp\TelephoneEvent;
use Vorhut\Core\Wire\Sdp\Session;

/** Keys in a stream: the packets of RFC 4733. */
final class TelephoneEventTest extends TestCase
{
    /** Somebody dials "911", as in the example of RFC 2833 §3.6: event, time, duration and end of some of its packets. */
    public function testTheExampleOfTheStandard(): void
    {
        $presses = new KeyPresses();
        $heard = [];
        foreach ([
            ['9', 0, 400, false, '09070190'],
            ['9', 0, 800, false, '09070320'],
            ['9', 0, 1600, true, '09870640'],
            ['9', 0, 1600, true, '09870640'],
            ['1', 6400, 400, false, '01070190'],
            ['1', 6400, 2000, true, '018707d0'],
            ['1', 11200, 400, false, '01070190'],
            ['1', 11200, 1760, true, '018706e0'],
        ] as $i => [$key, $time, $duration, $isEnd, $bytes]) {
            $event = new TelephoneEvent($key, $duration, $isEnd, 7);
            self::assertSame($bytes, bin2hex((string) $event));
            self::assertEquals($event, TelephoneEvent::fromString((string) $event));
            $heard[] = $presses->take(new RtpPacket(97, $i, $time, 0x5234A8, (string) $event), 97);
        }
        self::assertSame(['9', '1', '1'], array_values(array_filter($heard, is_string(...))), 'each press once, whatever is lost of it');
        self::assertNull((new KeyPresses())->take(new RtpPacket(0, 1, 1, 1, 'xxxx'), 97), 'sound is no key');
        self::assertNull((new KeyPresses())->take(new RtpPacket(97, 1, 1, 1, "\x20\x00\x00\x00"), 97), 'nor is a modem');
    }

    public function testKeysAreTheStandardsOwn(): void
    {
        foreach (str_split('0123456789*#ABCD') as $number => $key) {
            self::assertTrue(TelephoneEvent::isKey($key));
            self::assertSame($number, \ord(((string) new TelephoneEvent($key, 0, false))[0]));
        }
        self::assertFalse(TelephoneEvent::isKey('12'));
        $this->expectException(ParseError::class);
        TelephoneEvent::fromString('abc');
    }

    public function testTheyAreOfferedAsideFromCodecs(): void
    {
        $offer = Session::fromString("v=0\r\nc=IN IP4 192.0.2.4\r\nm=audio 40000 RTP/AVP 0 8 96\r\na=rtpmap:96 telephone-event/8000\r\n");
        self::assertSame([[0, 8], 96], [$offer->formats, $offer->keys]);
        $again = Session::fromString((string) $offer->withKeys());
        self::assertSame([[0, 8], 101], [$again->formats, $again->keys]);
        self::assertNull(Session::fromString("c=IN IP4 192.0.2.4\r\nm=audio 4 RTP/AVP 0\r\n")->keys);
    }

    public function testAKeyThatIsHeldIsNoJitter(): void
    {
        $heard = new Reception();
        foreach ([[0, 0], [160, 160], [320, null], [320, null], [960, 960]] as $i => [$time, $arrival]) {
            $heard->take(new RtpPacket(0, $i, $time, 1, ''), $arrival);
        }
        self::assertSame([5, 0.0], [$heard->receivedCount(), $heard->jitter()]);
    }
}
