<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\Rtp\Packet;
use Vorhut\Core\Wire\Rtp\ReceiverReport;
use Vorhut\Core\Wire\Rtp\Reception;
use Vorhut\Core\Wire\Rtp\Tone;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Unreadable;

final class MediaTest extends TestCase
{
    public function testAnRtpHeaderIsReadByItsBits(): void
    {
        // Version 2, padding, extension of one word, one contributing source, marker, type 8.
        $bytes = hex2bin('b188002a00000064deadbeef0000000100010001aabbccdd4142030003');
        $packet = Packet::fromString((string) $bytes);
        self::assertSame([8, 42, 100, 0xDEADBEEF, 'AB', true], [
            $packet->type,
            $packet->sequence,
            $packet->timestamp,
            $packet->source,
            $packet->payload,
            $packet->marker,
        ]);
        self::assertEquals(new Packet(0, 1, 160, 7, 'x'), Packet::fromString((string) new Packet(0, 1, 160, 7, 'x')));

        $this->expectException(Unreadable::class);
        Packet::fromString((string) hex2bin('8000000100000000'));
    }

    public function testJitterAndLossByTheStandardsFormula(): void
    {
        $reception = new Reception();
        // RFC 3550 §6.4.1: J += (|D| - J) / 16. Even spacing, then one packet 16 units late, then even again.
        foreach ([[65534, 0, 0], [65535, 160, 160], [0, 320, 336], [2, 640, 656]] as [$sequence, $timestamp, $arrival]) {
            $reception->take(new Packet(0, $sequence, $timestamp, 9, ''), $arrival);
        }
        self::assertEqualsWithDelta(1.0 - 1.0 / 16, $reception->jitter(), 1e-9);
        self::assertSame(
            [5, 4, 1],
            [$reception->expected(), $reception->received(), $reception->lost()],
            'over the wrap of the sequence number',
        );
        self::assertSame(0x10000 + 2, $reception->highest());

        $report = ReceiverReport::fromString((string) ReceiverReport::of($reception, 3));
        self::assertSame([3, 9, 1, 51], [$report->reporter, $report->source, $report->lost, $report->fraction]);
    }

    public function testMuLawOfKnownSamples(): void
    {
        // ITU-T G.711: silence is 0xFF, the extremes 0x80 and 0x00.
        self::assertSame([0xFF, 0x80, 0x00, 0x7F], [Tone::encode(0), Tone::encode(32767), Tone::encode(-32768), Tone::encode(-1)]);
        self::assertSame(160, \strlen(Tone::packet(440, 3)));
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
    }

    public function testAGroupQuestionAndItsAnswer(): void
    {
        self::assertSame(['id' => 77, 'type' => '_rtsp._tcp'], Query::read(Query::ask('_rtsp._tcp', 77)));
        $answer = Query::readAnswer(Query::answer(77, '_rtsp._tcp', 'CAM-1', 'cam-1', 80, Ipv4::fromString('10.64.30.31')));
        self::assertSame([77, 'CAM-1', '10.64.30.31'], [$answer['id'] ?? 0, $answer['name'] ?? '', (string) ($answer['address'] ?? '')]);
        self::assertNull(Query::readAnswer(Query::ask('_rtsp._tcp', 77)));
        $this->expectException(Unreadable::class);
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
        $this->expectException(Unreadable::class);
        Response::fromString("SSH-2.0-x\r\n");
    }
}
