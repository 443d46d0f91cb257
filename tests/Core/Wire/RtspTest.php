<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Rtsp\RtspMessage;
use Vorhut\Core\Wire\Sdp\PictureFormat;

/** Asking a sender of pictures what it has. */
final class RtspTest extends TestCase
{
    /** RFC 2326 §10.2, with its lengths as they are. */
    public function testTheExampleOfTheStandard(): void
    {
        $asked = "DESCRIBE rtsp://server.example.com/fizzle/foo RTSP/1.0\r\nCSeq: 312\r\nAccept: application/sdp, application/rtsl\r\n\r\n";
        $request = RtspMessage::fromString($asked);
        self::assertSame(
            ['DESCRIBE', 'rtsp://server.example.com/fizzle/foo', '312', $asked],
            [$request->method, $request->uri, $request->header('CSeq'), (string) $request],
        );
        $body = "v=0\r\nm=audio 3456 RTP/AVP 0\r\nm=video 2232 RTP/AVP 31\r\n";
        $answer = RtspMessage::response($request, 200, ['content-type' => 'application/sdp'], $body);
        self::assertSame(
            "RTSP/1.0 200 OK\r\nCSeq: 312\r\nContent-Type: application/sdp\r\nContent-Length: ".\strlen($body)."\r\n\r\n".$body,
            (string) $answer,
        );
        $bytes = $answer.'RTSP';
        self::assertSame(\strlen($bytes) - 4, RtspMessage::length($bytes));
        self::assertNull(RtspMessage::length(substr($bytes, 0, 40)));
        self::assertSame(
            [200, $body],
            [RtspMessage::fromString((string) $answer)->status, RtspMessage::fromString((string) $answer)->body],
        );
    }

    #[TestWith(["HTTP/1.1 200 OK\r\n\r\n"])]
    #[TestWith(["RTSP/1.0 700 What\r\n\r\n"])]
    #[TestWith(["describe x RTSP/1.0\r\n\r\n"])]
    #[TestWith([''])]
    public function testWhatIsNoneIsRefused(string $bytes): void
    {
        $this->expectException(ParseError::class);
        RtspMessage::fromString($bytes);
    }

    public function testNothingIsWaitedForThatNeverEnds(): void
    {
        foreach ([str_repeat('x', 70000), "RTSP/1.0 200 OK\r\nContent-Length: 999999\r\n\r\n"] as $bytes) {
            try {
                RtspMessage::length($bytes);
                self::fail();
            } catch (ParseError $e) {
                self::assertStringContainsString('length', $e->getMessage());
            }
        }
    }

    public function testPictures(): void
    {
        $picture = new PictureFormat('H.265', 1920, 1080, 25.0);
        self::assertEquals($picture, PictureFormat::fromString($picture->describe('192.0.2.1')));
        self::assertSame('H.265 1920×1080 25 fps', (string) $picture);
        $itsOwn = PictureFormat::fromString("m=video 0 RTP/AVP 26\r\n");
        self::assertEquals(new PictureFormat('MJPEG', null, null, null), $itsOwn, 'a type of its own');
        self::assertEquals(
            new PictureFormat('H.264', null, null, 29.97),
            PictureFormat::fromString("m=audio 0 RTP/AVP 0\r\nm=video 0 RTP/AVP 97\r\na=rtpmap:97 h264/90000\r\na=framerate:29.97\r\n"),
        );
        self::assertSame('VP8', PictureFormat::fromString("m=video 0 RTP/AVP 97\r\na=rtpmap:97 VP8/90000\r\n")->codec);
        self::assertTrue($picture->fits(new PictureFormat('H.265', null, null, null)), 'what nobody says is no difference');
        self::assertTrue((new PictureFormat('H.264', 1, 1, 29.97))->fits(new PictureFormat('H.264', 1, 1, 30.0)));
        foreach ([
            new PictureFormat('H.264', 1920, 1080, 25.0),
            new PictureFormat('H.265', 1280, 720, 25.0),
            new PictureFormat('H.265', 1920, 1080, 30.0),
        ] as $other) {
            self::assertFalse($picture->fits($other), (string) $other);
        }
        $this->expectException(ParseError::class);
        PictureFormat::fromString("m=audio 0 RTP/AVP 0\r\n");
    }
}
