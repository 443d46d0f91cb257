<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Fax\FaxPacket;
use Vorhut\Core\Wire\Fax\Indicator;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\FaxSession;

final class FaxTest extends TestCase
{
    public function testADatagramSaysWhatIsNewAndOnceMoreWhatWasBefore(): void
    {
        // ITU-T T.38 §9.1: number, the new packet by its length, no parity, how many before, each by its length.
        $packet = new FaxPacket(0x0102, Indicator::Called, [Indicator::Called, Indicator::NoSignal]);
        self::assertSame('01020104000201040100', bin2hex((string) $packet));
        self::assertEquals($packet, FaxPacket::fromString((string) $packet));
        $many = new FaxPacket(65_536 + 7, Indicator::Calling, array_fill(0, 9, Indicator::Preamble));
        self::assertSame('000701020003010601060106', bin2hex((string) $many), 'the number begins again, and not all come along');
    }

    #[TestWith([''])]
    #[TestWith(['0001'])]
    #[TestWith(['000101048000'])]
    #[TestWith(['000102040000'])]
    #[TestWith(['000101440000'])]
    #[TestWith(['000101840000'])]
    #[TestWith(['000101050000'])]
    #[TestWith(['000101080000'])]
    #[TestWith(['0001010400020104'])]
    #[TestWith(['000101040001ff'])]
    public function testAnythingElseIsNoneOfThem(string $bytes): void
    {
        $this->expectException(ParseError::class);
        FaxPacket::fromString((string) hex2bin($bytes));
    }

    public function testADescriptionOfAFax(): void
    {
        $session = new FaxSession(Ipv4::fromString('192.0.2.9'), 40_010, 9600);
        self::assertEquals($session, FaxSession::tryFromString((string) $session));
        self::assertStringContainsString("m=image 40010 udptl t38\r\na=T38FaxVersion:0\r\na=T38MaxBitRate:9600\r\n", (string) $session);
        // With the sound refused beside it, and the address said for the fax alone.
        $mixed = FaxSession::tryFromString(
            "v=0\r\nc=IN IP4 192.0.2.1\r\nm=audio 0 RTP/AVP 0\r\nm=image 4000 udptl t38\r\nc=IN IP4 192.0.2.2\r\n",
        );
        self::assertSame(['192.0.2.2', 4000, FaxSession::RATE], [(string) $mixed?->address, $mixed?->port, $mixed?->rate]);
        foreach ([
            "c=IN IP4 192.0.2.1\r\nm=image 0 udptl t38\r\n",
            "c=IN IP4 192.0.2.1\r\nm=image 70000 udptl t38\r\n",
            "c=IN IP4 192.0.2.1\r\nm=image 4000 tcp t38\r\n",
            "m=image 4000 udptl t38\r\n",
            "c=IN IP4 192.0.2.1\r\nm=audio 4000 RTP/AVP 0\r\n",
        ] as $none) {
            self::assertNull(FaxSession::tryFromString($none), $none);
        }
    }
}
