<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtp\ReceiverReport;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\RtpPacket;
use Vorhut\Core\Wire\Rtp\SourceDescription;
use Vorhut\Core\Wire\Rtp\Tone;
use Vorhut\Core\Wire\Sdp\Session;

final class MediaTest extends TestCase
{
    public function testAnRtpHeaderIsReadByItsBits(): void
    {
        // Version 2, padding, extension of one word, one contributing source, marker, type 8.
        $bytes = hex2bin('b188002a00000064deadbeef0000000100010001aabbccdd4142030003');
        $packet = RtpPacket::fromString((string) $bytes);
        self::assertSame([8, 42, 100, 0xDEADBEEF, 'AB', true], [
            $packet->type,
            $packet->sequence,
            $packet->timestamp,
            $packet->source,
            $packet->payload,
            $packet->marker,
        ]);
        self::assertEquals(new RtpPacket(0, 1, 160, 7, 'x'), RtpPacket::fromString((string) new RtpPacket(0, 1, 160, 7, 'x')));

        $this->expectException(ParseError::class);
        RtpPacket::fromString((string) hex2bin('8000000100000000'));
    }

    public function testJitterAndLossByTheStandardsFormula(): void
    {
        $reception = new Reception();
        // RFC 3550 §6.4.1: J += (|D| - J) / 16. Even spacing, then one packet 16 units late, then even again.
        foreach ([[65534, 0, 0], [65535, 160, 160], [0, 320, 336], [2, 640, 656]] as [$sequence, $timestamp, $arrival]) {
            $reception->take(new RtpPacket(0, $sequence, $timestamp, 9, ''), $arrival);
        }
        self::assertEqualsWithDelta(1.0 - 1.0 / 16, $reception->jitter(), 1e-9);
        self::assertSame(
            [5, 4, 1],
            [$reception->expectedCount(), $reception->receivedCount(), $reception->lostCount()],
            'over the wrap of the sequence number',
        );
        self::assertSame(0x10000 + 2, $reception->highest());

        $report = ReceiverReport::fromString((string) ReceiverReport::of($reception, 3));
        self::assertSame([3, 9, 1, 51], [$report->reporter, $report->source, $report->lost, $report->fraction]);
    }

    public function testAnotherSourceIsCountedAnewAndWhatCameTwiceIsNoLossBelowZeroOnTheWire(): void
    {
        $reception = new Reception();
        self::assertSame([0, 0], [$reception->expectedCount(), $reception->lostCount()]);
        foreach ([[7, 9], [8, 9], [100, 4], [101, 4], [101, 4]] as [$sequence, $source]) {
            $reception->take(new RtpPacket(0, $sequence, 0, $source, ''), 0);
        }
        $counts = [$reception->expectedCount(), $reception->receivedCount(), $reception->lostCount()];
        self::assertSame([2, 3, -1, 4], [...$counts, $reception->source()]);
        $bytes = (string) ReceiverReport::of($reception, 3);
        self::assertSame('81c90007000000030000000400ffffff0000006500000000', bin2hex(substr($bytes, 0, 24)), 'RFC 3550 §6.4.2');
        self::assertSame(str_repeat("\0", 8), substr($bytes, 24), 'no sender report was heard');
        self::assertSame(-1, ReceiverReport::fromString($bytes)->lost);
        $most = new ReceiverReport(1, 2, 0x7FFFFF, 0, 0);
        self::assertSame(0x7FFFFF, ReceiverReport::fromString((string) $most)->lost);
        $least = new ReceiverReport(1, 2, -0x800000, 0, 0);
        self::assertSame(-0x800000, ReceiverReport::fromString((string) $least)->lost);
    }

    public function testMuLawOfKnownSamples(): void
    {
        // ITU-T G.711: silence is 0xFF, the extremes 0x80 and 0x00.
        self::assertSame([0xFF, 0x80, 0x00, 0x7F], [Tone::encode(0), Tone::encode(32767), Tone::encode(-32768), Tone::encode(-1)]);
        self::assertSame(160, \strlen(Tone::packet(440, 3)));
        // An eighth of a turn each sample at 1000 Hz, and the second packet goes on where the first ended.
        $wave = implode('', array_map(static fn (int $sample): string => \chr(Tone::encode($sample)), [
            0, 5657, 8000, 5657, 0, -5657, -8000, -5657,
        ]));
        self::assertSame($wave, substr(Tone::packet(1000, 0), 0, 8));
        self::assertNotSame(Tone::packet(210, 0), Tone::packet(210, 1));
        self::assertSame(Tone::packet(200, 0), Tone::packet(200, 5), 'twenty whole turns later');
    }

    public function testAReportGoesWithTheNameOfItsSender(): void
    {
        // RFC 3550 §6.5: V=2 SC=1, PT 202, length in words less one; source, CNAME 1, its length, the name, nulls to the boundary.
        self::assertSame(
            '81ca0004000000070109'.bin2hex('a@b.c.dd.').'00',
            bin2hex((string) new SourceDescription(7, 'a@b.c.dd.')),
        );
        self::assertSame(0, \strlen((string) new SourceDescription(7, 'abcdef')) % 4);
        self::assertSame("\0", substr((string) new SourceDescription(7, 'ab'), -1), 'ended by a null whatever the length');
        $report = new ReceiverReport(1, 2, 3, 4, 5);
        self::assertEquals($report, ReceiverReport::fromString($report.new SourceDescription(1, 'x@y')));
    }

    public function testAnOfferIsReadAndAnswered(): void
    {
        $offer = Session::fromString(
            "v=0\r\no=alice 1 1 IN IP4 192.0.2.1\r\ns=-\r\nc=IN IP4 192.0.2.1\r\nt=0 0\r\nm=video 4000 RTP/AVP 96\r\nm=audio 49170 "
                ."RTP/AVP 18 8 0\r\nc=IN IP4 192.0.2.9\r\n",
        );
        self::assertSame(['192.0.2.9', 49170], [(string) $offer->address, $offer->port]);
        self::assertSame(8, (new Session(Ipv4::fromString('192.0.2.2'), 40000, [0, 8]))->common($offer));
        self::assertNull((new Session(Ipv4::fromString('192.0.2.2'), 40000, [9]))->common($offer));
        self::assertEquals($offer->formats, Session::fromString((string) $offer)->formats);
        // RFC 8866 §5: version, origin, name, connection, time, medium, in this order.
        self::assertSame(
            "v=0\r\no=- 1 1 IN IP4 192.0.2.2\r\ns=-\r\nc=IN IP4 192.0.2.2\r\nt=0 0\r\nm=audio 40000 RTP/AVP 0 8\r\n"
                ."a=rtpmap:0 PCMU/8000\r\na=rtpmap:8 PCMA/8000\r\na=ptime:20\r\na=sendrecv\r\n",
            (string) new Session(Ipv4::fromString('192.0.2.2'), 40000, [0, 8]),
        );
    }

    #[TestWith(["m=audio 4000 RTP/AVP 0\r\n"])]
    #[TestWith(["c=IN IP4 192.0.2.1\r\n"])]
    #[TestWith(["c=IN IP4 192.0.2.1\r\nm=video 4000 RTP/AVP 0\r\n"])]
    #[TestWith(["c=IN IP4 192.0.2.1\r\nm=audio 70000 RTP/AVP 0\r\n"])]
    #[TestWith(["c=IN IP4 192.0.2.999\r\nm=audio 4000 RTP/AVP 0\r\n"])]
    public function testADescriptionWithoutSoundIsRefused(string $lines): void
    {
        $this->expectException(ParseError::class);
        Session::fromString("v=0\r\n".$lines);
    }

    public function testAGroupQuestionAndItsAnswer(): void
    {
        self::assertSame(['id' => 77, 'type' => '_rtsp._tcp'], Query::read(Query::ask('_rtsp._tcp', 77)));
        $answer = Query::readAnswer(Query::answer(77, '_rtsp._tcp', 'CAM-1', 'cam-1', 80, Ipv4::fromString('10.64.30.31')));
        self::assertSame([77, 'CAM-1', '10.64.30.31'], [$answer['id'] ?? 0, $answer['name'] ?? '', (string) ($answer['address'] ?? '')]);
        self::assertNull(Query::readAnswer(Query::ask('_rtsp._tcp', 77)));
        self::assertSame(77, Query::read(str_pad(Query::ask('_rtsp._tcp', 77), 9000, "\0"))['id'] ?? 0, 'the largest there is');
        $this->expectException(ParseError::class);
        Query::read("\x00\x01garbage");
    }

    public function testHttpHeadsAndBodies(): void
    {
        $request = new Request('POST', '/settings', ['authorization' => 'Basic '.base64_encode('admin:a:b')], 'ip=10.0.0.1');
        self::assertSame(\strlen((string) $request), Request::length((string) $request));
        self::assertNull(Request::length("GET / HTTP/1.1\r\nHo"));
        self::assertSame([['admin', 'a:b'], 'ip=10.0.0.1'], [
            Request::fromString((string) $request)->login(),
            Request::fromString((string) $request)->body,
        ]);
        self::assertSame('PTZ & co', Response::fromString((string) new Response(200, [], '<title> PTZ &amp; co </title>'))->title());
        $this->expectException(ParseError::class);
        Response::fromString("SSH-2.0-x\r\n");
    }
}
