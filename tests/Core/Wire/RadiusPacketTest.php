<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Radius\Code;
use Vorhut\Core\Wire\Radius\RadiusPacket;

final class RadiusPacketTest extends TestCase
{
    private const SECRET = 'xyzzy5461';

    public function testTheExampleOfAUserWhoLogsIn(): void
    {
        // RFC 2865 §7.1: "nemo" with the password "arctangent".
        $request = RadiusPacket::fromString((string) hex2bin(
            '010000380f403f9473978057bd83d5cb98f4227a01066e656d6f02120dbe708d93d413ce3196e43f782a0aee0406c0a80110050600000003',
        ));
        self::assertSame([Code::AccessRequest, 0, 'nemo', 'arctangent'], [
            $request->code, $request->id, $request->attribute(RadiusPacket::USER_NAME), $request->password(self::SECRET),
        ]);
        self::assertSame(
            '0dbe708d93d413ce3196e43f782a0aee',
            bin2hex(RadiusPacket::hidePassword('arctangent', self::SECRET, $request->authenticator)),
        );
        $accept = RadiusPacket::fromString((string) hex2bin(
            '0200002686fe220e7624ba2a1005f6bf9b55e0b20606000000010f06000000000e06c0a80103',
        ));
        self::assertTrue($accept->answers($request, self::SECRET));
        self::assertFalse($accept->answers($request, 'another'));
        self::assertFalse($request->answers($request, self::SECRET), 'a request answers nothing');
        self::assertNotSame('arctangent', $request->password('another'));
    }

    public function testTheExampleOfAServerThatIsAskedWhetherItIsThere(): void
    {
        // RFC 5997 §6.1.
        $asked = RadiusPacket::fromString((string) hex2bin(
            '0cda00268a54f4686fb394c52866e302185d062350125a665e2e1e8411f3e243822097c84fa3',
        ));
        self::assertSame([Code::StatusServer, 218], [$asked->code, $asked->id]);
        self::assertTrue($asked->isSealedWith(self::SECRET));
        self::assertFalse($asked->isSealedWith('another'));
        $answer = RadiusPacket::fromString((string) hex2bin('02da0014ef0d552a4bf2d693ec2b6fe8b5411d66'));
        self::assertTrue($answer->answers($asked, self::SECRET));
    }

    public function testWhatIsMadeHereIsReadHere(): void
    {
        $long = str_repeat('a password of more than sixteen octets ', 3);
        $request = RadiusPacket::request(Code::AccessRequest, 300, str_repeat("\x5A", 16), self::SECRET, [
            [RadiusPacket::USER_NAME, 'fleet'],
            [RadiusPacket::USER_PASSWORD, RadiusPacket::hidePassword($long, self::SECRET, str_repeat("\x5A", 16))],
        ]);
        $read = RadiusPacket::fromString($request.'padding');
        self::assertSame([44, 'fleet', $long, true], [
            $read->id, $read->attribute(RadiusPacket::USER_NAME), $read->password(self::SECRET), $read->isSealedWith(self::SECRET),
        ]);
        $reject = $read->respond(Code::AccessReject, self::SECRET, [[RadiusPacket::REPLY_MESSAGE, 'No.']]);
        self::assertTrue(RadiusPacket::fromString((string) $reject)->answers($read, self::SECRET));
        $spoilt = substr_replace((string) $reject, 'Yes', -3);
        self::assertFalse(RadiusPacket::fromString($spoilt)->answers($read, self::SECRET));
        self::assertSame('', $this->password(''), 'an empty one too');
        self::assertNull((new RadiusPacket(Code::AccessRequest, 1, str_repeat("\0", 16)))->password(self::SECRET));
        self::assertFalse((new RadiusPacket(Code::AccessRequest, 1, str_repeat("\0", 16)))->isSealedWith(self::SECRET));
    }

    public function testAnAttributeMayHoldNothing(): void
    {
        $read = RadiusPacket::fromString((string) hex2bin('0c010016'.str_repeat('00', 16).'0102'));
        self::assertSame(['', null], [$read->attribute(1), $read->attribute(2)]);
    }

    private function password(string $password): ?string
    {
        $hidden = RadiusPacket::hidePassword($password, self::SECRET, str_repeat("\1", 16));

        return (new RadiusPacket(Code::AccessRequest, 1, str_repeat("\1", 16), [[RadiusPacket::USER_PASSWORD, $hidden]]))
            ->password(self::SECRET);
    }

    #[TestWith([''])]
    #[TestWith(['0c010013000000000000000000000000000000'])]
    #[TestWith(['0c01001300000000000000000000000000000000'])]
    #[TestWith(['0c01001500000000000000000000000000000000'])]
    #[TestWith(['0c0100150000000000000000000000000000000001'])]
    #[TestWith(['0c010016000000000000000000000000000000000101'])]
    #[TestWith(['0c010016000000000000000000000000000000000103'])]
    #[TestWith(['63010014000000000000000000000000000000000000'])]
    public function testAnythingElseIsNone(string $hex): void
    {
        $this->expectException(ParseError::class);
        RadiusPacket::fromString((string) hex2bin($hex));
    }
}
