<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Wire\Rtp\ReceiverReport;
use Vorhut\Core\Wire\Rtp\RtpPacket;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Outpost\Probe\SipCaller;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Socket\LoopbackDatagrams;
use Vorhut\Socket\SipLine;
use Vorhut\Tests\Support\Jobs;

/** The outpost as a caller, against far ends that behave in every way they can. */
final class SipCallerTest extends TestCase
{
    private const HERE = '10.91.20.254';
    private const THERE = '10.91.20.10';

    /** @return iterable<string, array{\Closure(SipLine, SipMessage, Ipv4, int): void, Outcome, string}> */
    public static function farEnds(): iterable
    {
        $refuse = static fn (int $status): \Closure => static function (
            SipLine $line,
            SipMessage $request,
            Ipv4 $from,
            int $port,
        ) use ($status): void {
            if ('ACK' !== $request->method) {
                $line->answer($request, SipMessage::response($request, $status, null, [], '', 'x'), $from, $port);
            }
        };
        yield 'busy' => [$refuse(486), Outcome::NotAnswered, '486: busy'];
        yield 'unknown number' => [$refuse(404), Outcome::NotAnswered, '404: number not known'];
        yield 'no common codec' => [$refuse(488), Outcome::NotAnswered, '488: no common codec'];
        yield 'declined' => [$refuse(603), Outcome::NotAnswered, '603: declined'];
        yield 'silence' => [static function (): void {
        }, Outcome::NotAnswered, 'no answer at all: address, port, transport or filter'];
        yield 'rings for ever' => [static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port): void {
            if ('INVITE' === $request->method) {
                $line->answer($request, SipMessage::response($request, 180), $from, $port);
            }
        }, Outcome::NotAnswered, 'it rang; no answer at all'];
        yield 'taken, and nothing rings' => [self::ringing(100), Outcome::NotAnswered, 'it was taken, and nothing rang'];
        yield 'rings, and stops when it is given up' => [self::ringing(180), Outcome::NotAnswered, 'it rang, but was not answered'];
        yield 'a challenge it cannot read' => [static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port): void {
            if ('ACK' !== $request->method) {
                $challenge = ['Proxy-Authenticate', 'Digest realm="x", nonce="y", algorithm=SHA-512-256'];
                $line->answer($request, SipMessage::response($request, 407, null, [$challenge]), $from, $port);
            }
        }, Outcome::NotAnswered, 'the registrar wants a password'];
        yield 'answers, and nothing is heard' => [self::answering('10.91.20.10', false, false), Outcome::OneWaySound, 'nothing heard here'];
        yield 'answers, sound only one way' => [self::answering('10.91.20.10', true, false), Outcome::OneWaySound, 'nothing heard there'];
        yield 'answers, sound both ways' => [self::answering('10.91.20.10', true, true), Outcome::DeviceAnswers, 'sound both ways'];
        yield 'the sound is wanted at a name server' => [
            self::sending('127.91.20.10', 53), Outcome::NotAsked, 'port 53, which is not of this job',
        ];
        yield 'the sound is wanted elsewhere' => [
            self::sending('203.0.113.9', 40000), Outcome::NotAsked, 'wants the sound sent to 203.0.113.9',
        ];
        yield 'busy, in words that are no text' => [static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port): void {
            if ('ACK' !== $request->method) {
                $line->answer($request, SipMessage::response($request, 486, "Geh\xF6rt \x1B[2J"), $from, $port);
            }
        }, Outcome::NotAnswered, '486: busy'];
        yield 'somebody else answers' => [self::answering('10.91.20.77', true, true), Outcome::OtherAnswers, 'answered by'];
    }

    /** @param \Closure(SipLine, SipMessage, Ipv4, int): void $behaviour */
    #[DataProvider('farEnds')]
    public function testEveryFarEndIsNamedAsWhatItIs(\Closure $behaviour, Outcome $outcome, string $words): void
    {
        $line = new SipLine(
            new LoopbackDatagrams(Ipv4::fromString(self::THERE), 5060),
            static function (SipMessage $request, Ipv4 $from, int $port) use ($behaviour, &$line): void {
                \assert($line instanceof SipLine);
                $behaviour($line, $request, $from, $port);
            },
        );
        $caller = new SipCaller(new LabAccess(1), self::place(), '2101', 'secret');
        $evidence = $caller->call(Ipv4::fromString(self::THERE), '2102', [Ipv4::fromString('10.91.20.10')], null, 3.0);
        $caller->close();
        $line->close();

        self::assertSame($outcome, $evidence->outcome, (string) $evidence->detail);
        self::assertStringContainsString($words, (string) $evidence->detail);
        self::assertStringStartsWith('> INVITE sip:2102@', $evidence->lines[0]);
        self::assertIsString(json_encode($evidence->lines), 'whatever was said can be kept');
    }

    public function testARegistrationSaysWhichPartFailed(): void
    {
        $caller = new SipCaller(new LabAccess(1), self::place(), '2101', 'secret');
        $line = new SipLine(
            new LoopbackDatagrams(Ipv4::fromString(self::THERE), 5060),
            static function (SipMessage $request, Ipv4 $from, int $port) use (&$line): void {
                \assert($line instanceof SipLine);
                $line->answer(
                    $request,
                    SipMessage::response(
                        $request,
                        null === $request->header('Authorization') ? 401 : 403,
                        null,
                        null === $request->header('Authorization') ? [['WWW-Authenticate', 'Digest realm="x", nonce="y"']] : [],
                    ),
                    $from,
                    $port,
                );
            },
        );
        $evidence = $caller->register(Ipv4::fromString(self::THERE));
        self::assertSame([Outcome::Rejected, '403: account name or password refused'], [$evidence->outcome, (string) $evidence->detail]);
        self::assertStringContainsString('(with password)', $evidence->lines[1]);
        self::assertStringNotContainsString('secret', implode('', $evidence->lines));
        $caller->close();
        $line->close();
    }

    public function testARequestIsSentAgainUntilSomethingComesBack(): void
    {
        $times = [];
        $line = null;
        $far = new LoopbackDatagrams(Ipv4::fromString(self::THERE), 5060);
        $deaf = \Amp\async(static function () use ($far, &$times): void {
            while (null !== $received = $far->receive()) {
                $times[] = microtime(true);
                if (3 === \count($times)) {
                    $request = SipMessage::fromString($received[2]);
                    $far->send($received[0], $received[1], (string) SipMessage::response($request, 200));
                }
            }
        });
        $deaf->ignore();
        $line = new SipLine(new LoopbackDatagrams(Ipv4::fromString(self::HERE), 0), static function (): void {
        });
        $begun = microtime(true);
        $answer = $line->ask(
            SipMessage::request('OPTIONS', 'sip:x', [
                ['Via', 'SIP/2.0/UDP x;branch=z9hG4bK1'],
                ['From', '<sip:a>;tag=1'],
                ['To', '<sip:b>'],
                ['Call-ID', 'c'],
                ['CSeq', '1 OPTIONS'],
            ]),
            Ipv4::fromString(self::THERE),
            5060,
            4.0,
        );
        self::assertSame(200, $answer?->status);
        // Timer E of RFC 3261 §17.1.2.2: T1, then twice as long; never sooner, counted from the start, for an arrival can only be late.
        self::assertGreaterThan(0.98 * SipLine::T1, $times[1] - $begun);
        self::assertGreaterThan(0.98 * 3 * SipLine::T1, $times[2] - $begun);
        $line->close();
        $far->close();
    }

    /** @return \Closure(SipLine, SipMessage, Ipv4, int): void a phone that rings until it is culprit to stop */
    private static function ringing(int $status): \Closure
    {
        return static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port) use ($status): void {
            static $invite = null;
            if ('INVITE' === $request->method) {
                $invite = $request;
                $line->answer($request, SipMessage::response($request, $status), $from, $port);
            } elseif ('CANCEL' === $request->method) {
                self::assertInstanceOf(SipMessage::class, $invite);
                self::assertSame(
                    [$invite->branch(), $invite->sequence()],
                    [$request->branch(), $request->sequence()],
                    'in the transaction of the INVITE',
                );
                $line->answer($request, SipMessage::response($request, 200), $from, $port);
                $line->answer($invite, SipMessage::response($invite, 487, null, [], '', 'x'), $from, $port);
            }
        };
    }

    private static function place(): VantagePoint
    {
        return new VantagePoint(
            (new Jobs())->segment('v', '10.91.20.0/24')->plan(),
            'test',
            new Adapter('lab', Ipv4::fromString(self::HERE)),
        );
    }

    /** @return \Closure(SipLine, SipMessage, Ipv4, int): void answers, and names where the sound is to go */
    private static function sending(string $address, int $to): \Closure
    {
        return static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port) use ($address, $to): void {
            if ('ACK' !== $request->method) {
                $line->answer(
                    $request,
                    SipMessage::response(
                        $request,
                        200,
                        null,
                        [['Contact', '<sip:x@198.51.100.9:9>'], ['Content-Type', 'application/sdp']],
                        (string) new Session(Ipv4::fromString($address), $to, [0]),
                        'far',
                    ),
                    $from,
                    $port,
                );
            }
        };
    }

    /** @return \Closure(SipLine, SipMessage, Ipv4, int): void a phone that answers from an address, and talks and reports or not */
    private static function answering(string $contact, bool $talks, bool $reports): \Closure
    {
        return static function (SipLine $line, SipMessage $request, Ipv4 $from, int $port) use ($contact, $talks, $reports): void {
            static $audio = null;
            if ('INVITE' === $request->method) {
                $media = new LoopbackDatagrams(Ipv4::fromString(self::THERE), 0);
                $contactHost = '127.'.substr($contact, 3);
                $line->answer(
                    $request,
                    SipMessage::response(
                        $request,
                        200,
                        null,
                        [['Contact', "<sip:x@$contactHost:5060>"], ['Content-Type', 'application/sdp']],
                        (string) new Session($media->address(), $media->port(), [0]),
                        'far',
                    ),
                    $from,
                    $port,
                );
                $offer = Session::fromString($request->body);
                $audio = \Amp\async(static function () use ($media, $offer, $talks, $reports): void {
                    for ($n = 0; $n < 45; ++$n) {
                        \Amp\delay(0.02);
                        if ($talks) {
                            $media->send(
                                $offer->address,
                                $offer->port,
                                (string) new RtpPacket(0, $n, $n * 160, 7, str_repeat("\xFF", 160)),
                            );
                        }
                        if ($reports
                            && 40 === $n) {
                            $media->send($offer->address, $offer->port + 1, (string) new ReceiverReport(7, 1, 0, 39, 4));
                        }
                    }
                });
                $audio->ignore();
            } elseif ('ACK' !== $request->method) {
                $line->answer($request, SipMessage::response($request, 200), $from, $port);
            }
        };
    }
}
