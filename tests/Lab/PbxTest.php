<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Address;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\InjectedFault;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\SipLine;
use Vorhut\Tests\Support\LabBench;
use Vorhut\Tests\Support\LoopbackGuest;

use function Amp\async;
use function Amp\delay;

/** The PBX stand-in, spoken to message by message. */
final class PbxTest extends TestCase
{
    private LabBench $bench;
    private SipLine $line;
    private Ipv4 $pbx;
    private int $sequence = 0;

    protected function setUp(): void
    {
        static $net = 150;
        \assert(\is_int($net));
        $this->bench = new LabBench($net);
        $this->pbx = Loopback::of(Ipv4::fromString("10.$net.20.10"));
        ++$net;
        $this->line = new SipLine(new LoopbackGuest(), function (SipMessage $request, Ipv4 $from, int $port): void {
            'ACK' === $request->method
                || $this->line->answer(
                    $request,
                    SipMessage::response($request, 'INVITE' === $request->method ? 486 : 200, null, [], '', 'guest'),
                    $from,
                    $port,
                );
        });
    }

    protected function tearDown(): void
    {
        $this->line->close();
        $this->bench->close();
    }

    /** @param list<array{string, string}> $more */
    private function request(
        string $method,
        string $user,
        string $to,
        array $more = [],
        string $body = '',
        ?string $callId = null,
    ): SipMessage {
        return SipMessage::request($method, 'REGISTER' === $method ? 'sip:'.$this->pbx : "sip:$to@$this->pbx", [
            [
                'Via',
                \sprintf(
                    'SIP/2.0/UDP %s:%d;branch=z9hG4bK%s;rport',
                    $this->line->socket->address(),
                    $this->line->socket->port(),
                    bin2hex(random_bytes(6)),
                ),
            ],
            ['Max-Forwards', '70'],
            ['From', "<sip:$user@$this->pbx>;tag=t1"],
            ['To', "<sip:$to@$this->pbx>"],
            ['Call-ID', $callId ?? bin2hex(random_bytes(6))],
            ['CSeq', ++$this->sequence.' '.$method],
            ['Contact', \sprintf('<sip:%s@%s:%d>', $user, $this->line->socket->address(), $this->line->socket->port())],
            ...$more,
        ], $body);
    }

    /** @param list<array{string, string}> $more */
    private function asked(
        string $method,
        string $user,
        string $secret,
        string $to,
        array $more = [],
        string $body = '',
        string $algorithm = 'SHA-256',
    ): SipMessage {
        $first = $this->line->ask($this->request($method, $user, $to, $more, $body), $this->pbx, 5060, 5.0) ?? self::fail('no answer');
        if (!\in_array($first->status, [401, 407], true)) {
            return $first;
        }
        [$offered, $answered] = 401 === $first->status
            ? ['WWW-Authenticate', 'Authorization']
            : ['Proxy-Authenticate', 'Proxy-Authorization'];
        foreach ($first->headers($offered) as $offer) {
            $digest = Digest::tryFromString($offer);
            if ($digest?->algorithm() === $algorithm) {
                $uri = 'REGISTER' === $method ? 'sip:'.$this->pbx : "sip:$to@$this->pbx";

                return $this->line->ask(
                    $this->request(
                        $method,
                        $user,
                        $to,
                        [...$more, [$answered, (string) $digest->answer($user, $secret, $method, $uri, 'c')]],
                        $body,
                    ),
                    $this->pbx,
                    5060,
                    8.0,
                ) ?? self::fail('no answer');
            }
        }
        self::fail('not offered: '.$algorithm);
    }

    private static function offer(): string
    {
        return (string) new Session(Ipv4::fromString('127.0.0.1'), 49170, [Session::PCMU]);
    }

    public function testBothAlgorithmsAreOfferedTheStrongerFirst(): void
    {
        $challenge = $this->line->ask($this->request('REGISTER', '2101', '2101'), $this->pbx, 5060, 5.0);
        self::assertSame(401, $challenge?->status);
        self::assertSame(
            ['SHA-256', 'MD5'],
            array_map(
                static fn (string $one): ?string => Digest::tryFromString($one)?->algorithm(),
                $challenge->headers('WWW-Authenticate'),
            ),
        );
        self::assertSame(200, $this->asked('REGISTER', '2101', 'secret-of-2101', '2101')->status);
        self::assertSame(200, $this->asked('REGISTER', '2101', 'secret-of-2101', '2101', algorithm: 'MD5')->status);
        self::assertSame(403, $this->asked('REGISTER', '2101', 'secret-of-2102', '2101')->status);
        self::assertSame(403, $this->asked('REGISTER', '2199', 'x', '2199')->status, 'a stranger learns nothing from another code');
    }

    public function testABindingStandsBesideThePhonesOwnAndGoesAgain(): void
    {
        $contacts = static fn (SipMessage $answer): array => array_map(
            static fn (string $one): string => Address::fromString($one)->host(),
            $answer->headers('Contact'),
        );
        $with = $this->asked('REGISTER', '2101', 'secret-of-2101', '2101', [['Expires', '30']]);
        self::assertCount(2, $with->headers('Contact'));
        self::assertContains((string) $this->line->socket->address(), $contacts($with));
        self::assertContains(preg_replace('/10$/', '31', (string) $this->pbx), $contacts($with), 'the phone is not displaced');
        $without = $this->asked('REGISTER', '2101', 'secret-of-2101', '2101', [['Expires', '0']]);
        self::assertNotContains((string) $this->line->socket->address(), $contacts($without));
    }

    public function testABindingThatIsNotRenewedRunsOut(): void
    {
        $this->asked('REGISTER', '2102', 'secret-of-2102', '2102', [['Expires', '1']]);
        delay(1.2);
        $answer = $this->asked('REGISTER', '2102', 'secret-of-2102', '2102', [['Expires', '0']]);
        self::assertStringNotContainsString((string) $this->line->socket->address().':', implode(' ', $answer->headers('Contact')));
    }

    public function testACallNeedsAnAccountANumberAndACodec(): void
    {
        self::assertSame(
            403,
            $this->asked('INVITE', '2101', 'wrong', '2102', [['Content-Type', 'application/sdp']], self::offer())->status,
        );
        self::assertSame(
            404,
            $this->asked('INVITE', '2101', 'secret-of-2101', '2999', [['Content-Type', 'application/sdp']], self::offer())->status,
        );
        self::assertSame(
            488,
            $this->asked(
                'INVITE',
                '2101',
                'secret-of-2101',
                '2102',
                [['Content-Type', 'application/sdp']],
                (string) new Session(Ipv4::fromString('127.0.0.1'), 49170, [18]),
            )->status,
        );
        self::assertSame(200, $this->line->ask($this->request('OPTIONS', '2101', '2101'), $this->pbx, 5060, 3.0)?->status);
        self::assertSame(405, $this->line->ask($this->request('SUBSCRIBE', '2101', '2101'), $this->pbx, 5060, 3.0)?->status);
    }

    public function testThePhoneAnswersThroughThePbxAndASecondCallIsBusy(): void
    {
        $answer = $this->asked('INVITE', '2101', 'secret-of-2101', '2102', [['Content-Type', 'application/sdp']], self::offer());
        self::assertSame(200, $answer->status);
        self::assertCount(1, $answer->headers('Record-Route'), 'the PBX stays in the path');
        self::assertCount(1, $answer->headers('Via'), 'and takes its own Via off again');
        self::assertSame(
            486,
            $this->asked('INVITE', '2101', 'secret-of-2101', '2102', [['Content-Type', 'application/sdp']], self::offer())->status,
        );

        $within = fn (string $method, int $n): SipMessage => SipMessage::request(
            $method,
            Address::fromString((string) $answer->header('Contact'))->uri,
            [
                [
                    'Via',
                    \sprintf(
                        'SIP/2.0/UDP %s:%d;branch=z9hG4bK%s',
                        $this->line->socket->address(),
                        $this->line->socket->port(),
                        bin2hex(random_bytes(6)),
                    ),
                ],
                ['Max-Forwards', '70'], ['Route', (string) $answer->header('Record-Route')],
                [
                    'From',
                    (string) $answer->header('From'),
                ], ['To', (string) $answer->header('To')], ['Call-ID', $answer->callId()], ['CSeq', $n.' '.$method],
            ],
        );
        $this->line->tell($within('ACK', $answer->sequence()), $this->pbx, 5060);
        delay(0.1);
        self::assertSame(200, $this->line->ask($within('BYE', $answer->sequence() + 1), $this->pbx, 5060, 4.0)?->status);
        self::assertSame(
            481,
            $this->line->ask($within('BYE', $answer->sequence() + 2), $this->pbx, 5060, 4.0)?->status,
            'the call is over',
        );
    }

    public function testVoicemailAnswersWhenNobodyPicksUpAndSaysWhoItIs(): void
    {
        $this->bench->play(InjectedFault::VoicemailAnswers, 'b');
        $before = microtime(true);
        $answer = $this->asked('INVITE', '2101', 'secret-of-2101', '2102', [['Content-Type', 'application/sdp']], self::offer());
        self::assertSame([200, 'voicemail', (string) $this->pbx], [
            $answer->status,
            Address::fromString((string) $answer->header('Contact'))->user(),
            Address::fromString((string) $answer->header('Contact'))->host(),
        ]);
        self::assertGreaterThan(1.9, microtime(true) - $before, 'after the time that the job says');
    }

    public function testACallThatIsGivenUpStopsRinging(): void
    {
        $this->bench->play(InjectedFault::VoicemailAnswers, 'b');
        $challenge = $this->line->ask(
            $this->request('INVITE', '2101', '2102', [['Content-Type', 'application/sdp']], self::offer()),
            $this->pbx,
            5060,
            4.0,
        );
        $digest = Digest::tryFromString((string) $challenge?->header('Proxy-Authenticate'));
        $invite = $this->request(
            'INVITE',
            '2101',
            '2102',
            [
                ['Content-Type', 'application/sdp'],
                ['Proxy-Authorization', (string) $digest?->answer('2101', 'secret-of-2101', 'INVITE', "sip:2102@$this->pbx", 'c')],
            ],
            self::offer(),
        );
        $ended = null;
        $call = async(function () use ($invite, &$ended): void {
            $ended = $this->line->ask($invite, $this->pbx, 5060, 6.0)?->status;
        });
        delay(0.6);
        self::assertSame(200, $this->line->ask(SipMessage::cancel($invite), $this->pbx, 5060, 3.0)?->status);
        $call->await();
        self::assertSame(487, $ended);
    }

    public function testARepeatedRequestGetsTheSameAnswerAndRubbishIsRefused(): void
    {
        $request = $this->request('OPTIONS', '2101', '2101');
        $raw = new LoopbackGuest();
        $answers = [];
        foreach ([
            (string) $request,
            (string) $request,
            "INVITE sip:x SIP/2.0\r\nVia: SIP/2.0/UDP 127.0.0.1:1;branch=b\r\nCall-ID: c\r\nCSeq: nonsense\r\n\r\n",
            "\x00\x01\x02",
        ] as $bytes) {
            $raw->send($this->pbx, 5060, $bytes);
            $answers[] = substr($raw->receive(0.8)[2] ?? '-', 0, 11);
        }
        self::assertSame(['SIP/2.0 200', 'SIP/2.0 200', 'SIP/2.0 400', '-'], $answers);
        $raw->close();
    }
}
