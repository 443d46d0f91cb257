<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Core\Wire\Sip\SipStream;

final class SipTest extends TestCase
{
    private const INVITE = "INVITE sip:vivekg@chair-dnrc.example.com;unknownparam SIP/2.0\r\n"
        ."TO :\r\n sip:vivekg@chair-dnrc.example.com ;   tag    = 1918181833n\r\n"
        ."from   : \"J Rosenberg \\\\\\\"\"       <sip:jdrosen@example.com>\r\n  ;\r\n  tag = 98asjd8\r\n"
        ."MaX-fOrWaRdS: 0068\r\nCall-ID: wsinv.ndaksdj@192.0.2.1\r\nCSeq: 0009\r\n  INVITE\r\n"
        ."v:  SIP  / 2.0  / UDP\r\n    192.0.2.2;branch=390skdjuw, SIP/2.0/TCP spindle.example.com ;branch = z9hG4bK9ikj8\r\n"
        ."s :\r\nNewFangledHeader:   newfangled value\r\n continued newfangled value\r\nContent-Type: application/sdp\r\n"
        ."m:\"Quoted string, with comma\" <sip:jdrosen@example.com> ; newparam = newvalue, <sip:two@example.com>\r\nl: 4\r\n\r\nv=0\r "
        .'and more';

    /**
     * After RFC 4475 §3.1.1.1, "a short tortuous INVITE": folding, compact forms, odd case, several values on one line, unknown headers.
     */
    public function testTheHostAndPortOfAnAddress(): void
    {
        foreach ([
            'sip:7@10.0.0.1:5' => ['7', '10.0.0.1', 5],
            'sips:a:pw@host.example:65535;lr' => ['a', 'host.example', 65535],
            'sip:host.example' => ['', 'host.example', 5060],
            'sip:2101%40x@h' => ['2101@x', 'h', 5060],
        ] as $uri => $parts) {
            $address = SipAddress::fromString('"N" <'.$uri.'>;tag=1');
            self::assertSame($parts, [$address->user(), $address->host(), $address->port()], $uri);
        }
    }

    public function testATortuousButValidMessageIsRead(): void
    {
        $message = SipMessage::fromString(self::INVITE);

        self::assertSame(['INVITE', 9, 'INVITE'], [$message->method, $message->sequence(), $message->sequenceMethod()]);
        self::assertCount(2, $message->headers('Via'));
        self::assertSame('390skdjuw', $message->branch());
        self::assertSame(
            ['sip:jdrosen@example.com', 'sip:two@example.com'],
            array_map(static fn (string $one): string => SipAddress::fromString($one)->uri, $message->headers('Contact')),
        );
        self::assertSame('98asjd8', $message->from()->parameter('tag'));
        self::assertSame('vivekg', $message->to()->user());
        self::assertSame('newfangled value continued newfangled value', $message->header('NewFangledHeader'));
        self::assertSame("v=0\r", $message->body, 'as long as Content-Length says');
    }

    #[TestWith(['192.0.2.1', '192.0.2.1'])]
    #[TestWith(['192.0.2.1;rport', '192.0.2.1;received=192.0.2.1;rport=5080'])]
    #[TestWith(['192.0.2.1:5062;rport=7;branch=x', '192.0.2.1:5062;rport=7;branch=x'])]
    #[TestWith(['10.0.0.9;branch=x', '10.0.0.9;branch=x;received=192.0.2.1'])]
    #[TestWith(['phone.invalid:5060;received=10.1.1.1;rport;branch=x', 'phone.invalid:5060;branch=x;received=192.0.2.1;rport=5080'])]
    public function testWhereARequestReallyCameFromIsWrittenBesideIt(string $via, string $wanted): void
    {
        // RFC 3261 §18.2.1, RFC 3581 §4.
        $request = SipMessage::request('OPTIONS', 'sip:x', [['Via', 'SIP/2.0/UDP '.$via], ['Via', 'SIP/2.0/UDP other']]);
        self::assertSame(
            ['SIP/2.0/UDP '.$wanted, 'SIP/2.0/UDP other'],
            $request->receivedFrom('192.0.2.1', 5080)->headers('Via'),
        );
    }

    #[TestWith(['sip:b@example.com', true])]
    #[TestWith(['sip:b@EXAMPLE.com;transport=udp', true])]
    #[TestWith(['sip:B@example.com', false])]
    #[TestWith(['sip:c@example.com', false])]
    #[TestWith(['sip:example.com', false])]
    public function testAnAnswerToAChallengeIsForOneAddress(string $uri, bool $is): void
    {
        $digest = Digest::challenge('r', 'n', 'MD5')->answer('a', 'p', 'INVITE', 'sip:b@example.com', 'c');
        self::assertSame($is, $digest->isFor($uri));
        self::assertStringContainsString('stale=true', (string) Digest::challenge('r', 'n', 'MD5', true));
        self::assertStringNotContainsString('stale', (string) Digest::challenge('r', 'n', 'MD5'));
    }

    public function testAnAnswerCopiesWhatTheStandardSaysAndTagsTheOtherEndOnce(): void
    {
        $request = SipMessage::request('INVITE', 'sip:b@192.0.2.2', [
            ['Via', 'SIP/2.0/UDP 192.0.2.1;branch=z9hG4bK1'],
            ['From', '<sip:a@192.0.2.1>;tag=1'],
            ['To', '<sip:b@192.0.2.2>'],
            ['Call-ID', 'x'],
            ['CSeq', '1 INVITE'],
            ['Contact', '<sip:a@192.0.2.1>'],
        ]);
        $to = static fn (?string $tag, SipMessage $of): ?string => SipMessage::response($of, 200, toTag: $tag)->header('To');
        self::assertSame('<sip:b@192.0.2.2>', SipMessage::response($request, 100)->header('To'));
        self::assertMatchesRegularExpression('/^<sip:b@192\.0\.2\.2>;tag=\w{10}$/', (string) $to(null, $request), 'all others have one');
        self::assertSame($to(null, $request), $to(null, $request), 'and always the same');
        self::assertSame('<sip:b@192.0.2.2>;tag=7', $to('7', $request));
        $again = SipMessage::request('BYE', 'sip:b@192.0.2.2', [['To', '<sip:b@192.0.2.2>;tag=7']]);
        self::assertSame('<sip:b@192.0.2.2>;tag=7', $to('8', $again), 'within a dialogue it stays (RFC 3261 §12.2.2)');
        $answer = SipMessage::response($request, 200);
        self::assertSame(
            ['SIP/2.0/UDP 192.0.2.1;branch=z9hG4bK1', '<sip:a@192.0.2.1>;tag=1', 'x', '1 INVITE', null],
            array_map($answer->header(...), ['Via', 'From', 'Call-ID', 'CSeq', 'Contact']),
            'RFC 3261 §8.2.6.2',
        );
    }

    /** The INVITE and the ACK of RFC 3261 §17.1.1.3, and what §9.1 says of CANCEL. */
    public function testAHeaderIsReplacedInItsPlaceAndTakenAwayOnce(): void
    {
        $message = SipMessage::request('OPTIONS', 'sip:b@192.0.2.2', [['Via', 'a'], ['X', '1'], ['via', 'b'], ['Y', '2']]);
        $names = static function (SipMessage $one): array {
            preg_match_all('/^(?:via|x|y|z): .$/im', str_replace("\r", '', (string) $one), $found);

            return str_replace(': ', '=', $found[0]);
        };
        self::assertSame(['Via=c', 'X=1', 'Y=2'], $names($message->with('Via', 'c')));
        self::assertSame(['Via=a', 'X=1', 'via=b', 'Y=2', 'Z=3'], $names($message->with('Z', '3')));
        self::assertSame(['X=1', 'via=b', 'Y=2'], $names($message->withoutFirst('VIA')));
        self::assertSame(['Via=a', 'X=1', 'via=b', 'Y=2'], $names($message->withoutFirst('Z')));
        self::assertSame(['Z=0', 'Via=a', 'X=1', 'via=b', 'Y=2'], $names($message->withFirst('Z', '0')));
    }

    public function testARefusalIsAcknowledgedAndAnInviteTakenBackWithinItsTransaction(): void
    {
        $invite = SipMessage::request('INVITE', 'sip:bob@biloxi.com', [
            ['Via', 'SIP/2.0/UDP pc33.atlanta.com;branch=z9hG4bKkjshdyff'],
            ['Via', 'SIP/2.0/UDP further.example;branch=z9hG4bK2'],
            ['Route', '<sip:one.example;lr>'],
            ['Route', '<sip:two.example;lr>'],
            ['To', 'Bob <sip:bob@biloxi.com>'],
            ['From', 'Alice <sip:alice@atlanta.com>;tag=88sja8x'],
            ['Call-ID', '987asjd97y7atg'],
            ['CSeq', '986759 INVITE'],
            ['Authorization', 'Digest x'],
        ], 'v=0');
        $said = static fn (SipMessage $message): array => [
            $message->method,
            $message->uri,
            array_map($message->headers(...), ['Via', 'Route', 'To', 'From', 'Call-ID', 'CSeq', 'Authorization']),
            $message->body,
        ];
        $expected = static fn (string $method, string $to): array => [$method, 'sip:bob@biloxi.com', [
            ['SIP/2.0/UDP pc33.atlanta.com;branch=z9hG4bKkjshdyff'],
            ['<sip:one.example;lr>', '<sip:two.example;lr>'],
            [$to],
            ['Alice <sip:alice@atlanta.com>;tag=88sja8x'],
            ['987asjd97y7atg'],
            ['986759 '.$method],
            [],
        ], ''];

        self::assertSame($expected('CANCEL', 'Bob <sip:bob@biloxi.com>'), $said(SipMessage::cancel($invite)));
        self::assertSame(
            $expected('ACK', 'Bob <sip:bob@biloxi.com>;tag=99sa0xk'),
            $said(SipMessage::acknowledge($invite, SipMessage::response($invite, 486, toTag: '99sa0xk'))),
        );
    }

    public function testWhatIsWrittenIsReadBackTheSame(): void
    {
        $once = (string) SipMessage::fromString(self::INVITE);

        self::assertSame($once, (string) SipMessage::fromString($once));
    }

    /** @return iterable<string, array{string}> */
    public static function broken(): iterable
    {
        yield 'no empty line' => ["OPTIONS sip:a@b SIP/2.0\r\nVia: x\r\n"];
        yield 'other version' => ["OPTIONS sip:a@b SIP/7.0\r\nVia: x\r\n\r\n"];
        yield 'no Call-ID' => [
            "OPTIONS sip:a@b SIP/2.0\r\nVia: SIP/2.0/UDP x\r\nFrom: <sip:a@b>\r\nTo: <sip:a@b>\r\nCSeq: 1 OPTIONS\r\n\r\n",
        ];
        yield 'length over body' => [str_replace('l: 4', 'l: 9999', self::INVITE)];
        yield 'negative length' => [str_replace('l: 4', 'l: -5', self::INVITE)];
        yield 'CSeq without method' => [str_replace("0009\r\n  INVITE", '0009', self::INVITE)];
        yield 'bytes' => [random_bytes(200)];
    }

    #[DataProvider('broken')]
    public function testABrokenMessageIsRefusedNotCrashed(string $bytes): void
    {
        $this->expectException(ParseError::class);
        SipMessage::fromString($bytes);
    }

    public function testAnyCutAndAnyFlippedByteIsEitherReadOrRefused(): void
    {
        mt_srand(7);
        for ($i = 0; $i < 1500; ++$i) {
            $bytes = substr(self::INVITE, 0, mt_rand(0, \strlen(self::INVITE)));
            for ($n = mt_rand(0, 6); $n > 0 && '' !== $bytes; --$n) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            try {
                $message = SipMessage::fromString($bytes);
                self::assertMatchesRegularExpression('/^.*$/s', $message->from()->host().$message->to()->user().$message->branch());
            } catch (ParseError $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
    }

    public function testDigestVectorsOfTheStandards(): void
    {
        // RFC 7616 §3.9.1, both algorithms.
        $fields = 'username="Mufasa", realm="http-auth@example.org", uri="/dir/index.html", '
            .'nonce="7ypf/xlj9XXwfDPEoM4URrv/xwf94BcCAzFZH4GiTo0v", nc=00000001, '
            .'cnonce="f2/wE4q74E6zIJEtWaHKaf5wv/H5QzzpXusqGemxURZJ", qop=auth, '
            .'opaque="FQhe/qaU925kfnzjCev0ciny7QMkPqMAFRtzCUYo5tdS"';
        self::assertSame(
            '8ca523f5e9506fed4657c9700eebdbec',
            Digest::tryFromString("Digest $fields, algorithm=MD5")?->response('Circle of Life', 'GET'),
        );
        self::assertSame(
            '753927fa0e85d155564e2e272a28d1802ca10daf4496794697cf8db5856cb6c1',
            Digest::tryFromString("Digest $fields, algorithm=SHA-256")?->response('Circle of Life', 'GET'),
        );
        // RFC 2617 §3.5, which RFC 3261 §22 refers to.
        self::assertSame(
            '6629fae49393a05397450978507c4ef1',
            Digest::tryFromString(
                'Digest username="Mufasa", realm="testrealm@host.com", nonce="dcd98b7102dd2f0e8b11d0f600bfb0c093", '
                    .'uri="/dir/index.html", qop=auth, nc=00000001, cnonce="0a4f113b"',
            )?->response('Circle Of Life', 'GET'),
        );
        // Without qop: RFC 2069 §2.4 with its erratum.
        self::assertSame(
            '1949323746fe6a43ef61f9606e7febea',
            Digest::tryFromString(
                'Digest username="Mufasa", realm="testrealm@host.com", nonce="dcd98b7102dd2f0e8b11d0f600bfb0c093", uri="/dir/index.html"',
            )?->response('CircleOfLife', 'GET'),
        );
    }

    public function testAnAnswerProvesThePasswordAndNothingElse(): void
    {
        $challenge = Digest::challenge('pbx', 'abc', 'SHA-256');
        $answer = Digest::tryFromString((string) $challenge->answer('2101', 'right "one"', 'REGISTER', 'sip:pbx', 'c'));

        self::assertTrue($answer?->proves('right "one"', 'REGISTER'));
        self::assertFalse($answer->proves('wrong', 'REGISTER'));
        self::assertFalse($answer->proves('right "one"', 'INVITE'));
        self::assertNull(Digest::tryFromString('Basic abc'));
    }

    public function testMessagesOutOfAStreamHoweverItIsCut(): void
    {
        $one = "OPTIONS sip:a@b SIP/2.0\r\nContent-Length: 3\r\n\r\nabc";
        $two = "BYE sip:a@b SIP/2.0\r\nl : 0\r\n\r\n";
        $bytes = "\r\n\r\n".$one."\r\n".$two.substr($one, 0, 20);
        for ($size = 1; $size <= \strlen($bytes); ++$size) {
            $stream = new SipStream();
            $whole = [];
            foreach (str_split($bytes, $size) as $some) {
                $whole = [...$whole, ...$stream->feed($some)];
            }
            self::assertSame([$one, $two], $whole);
        }
        foreach ([
            "BYE sip:a@b SIP/2.0\r\n\r\n",
            "X\r\nContent-Length: 70000\r\n\r\n",
            str_repeat('x', 70000),
            "X\r\nContent-Length: -1\r\n\r\n",
        ] as $bad) {
            try {
                (new SipStream())->feed($bad);
                self::fail(substr($bad, 0, 30));
            } catch (ParseError) {
                $this->addToAssertionCount(1);
            }
        }
    }
}
