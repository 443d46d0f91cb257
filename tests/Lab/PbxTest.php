<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sdp\Direction;
use Vorhut\Core\Wire\Sdp\FaxSession;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\InjectedFault;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\SipLine;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;
use Vorhut\Tests\Support\LoopbackGuest;

use function Amp\async;
use function Amp\delay;

/** The PBX stand-in, spoken to message by message. */
final class PbxTest extends TestCase
{
    private LabBench $bench;
    private SipLine $line;
    private ?SipLine $second = null;
    private Ipv4 $pbx;
    private int $sequence = 0;
    /** @var list<string> methods of what was asked of this end */
    private array $heard = [];
    /** @var array<string, SipMessage> what calls were answered that stand */
    private array $answers = [];

    protected function setUp(): void
    {
        static $net = 150;
        \assert(\is_int($net));
        $at = ['pbx' => 'pbx'];
        $this->bench = new LabBench($net, static fn (Jobs $jobs): Jobs => $jobs
            ->row('ringGroups', $at + ['key' => 'g', 'number' => '2300', 'name' => 'Desk', 'order' => 'all', 'members' => ['2102']])
            ->row('menus', $at + ['key' => 'm', 'number' => '2200', 'name' => 'Welcome', 'choices' => ['1 2102'], 'seconds' => 9]));
        $this->pbx = (new Loopback())->of(Ipv4::fromString("10.$net.20.10"));
        ++$net;
        $this->line = new SipLine(new LoopbackGuest(), function (SipMessage $request, Ipv4 $from, int $port): void {
            $this->heard[] = $request->method;
            if ('ACK' !== $request->method) {
                $this->line->answer(
                    $request,
                    SipMessage::response($request, 'INVITE' === $request->method ? 486 : 200, null, [], '', 'guest'),
                    $from,
                    $port,
                );
            }
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
            static fn (string $one): string => SipAddress::fromString($one)->host(),
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
        foreach (['REFER', 'NOTIFY', 'UPDATE'] as $method) {
            self::assertSame(481, $this->line->ask($this->request($method, '2101', '2101'), $this->pbx, 5060, 3.0)?->status, $method);
        }
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

        $this->line->tell($this->within($answer, 'ACK', $answer->sequence()), $this->pbx, 5060);
        delay(0.1);
        self::assertSame(200, $this->line->ask($this->within($answer, 'BYE', $answer->sequence() + 1), $this->pbx, 5060, 4.0)?->status);
        self::assertSame(
            481,
            $this->line->ask($this->within($answer, 'BYE', $answer->sequence() + 2), $this->pbx, 5060, 4.0)?->status,
            'the call is over',
        );
    }

    /**
     * What the caller says within the call that stands by an answer.
     *
     * @param list<array{string, string}> $headers
     */
    private function within(SipMessage $answer, string $method, int $sequence, array $headers = [], string $body = ''): SipMessage
    {
        return SipMessage::request($method, SipAddress::fromString((string) $answer->header('Contact'))->uri, [
            ['Via', $this->line->via()],
            ['Max-Forwards', '70'],
            ...array_map(static fn (string $route): array => ['Route', $route], $answer->headers('Record-Route')),
            ['From', (string) $answer->header('From')],
            ['To', (string) $answer->header('To')],
            ['Call-ID', $answer->callId()],
            ['CSeq', $sequence.' '.$method],
            ...$headers,
        ], $body);
    }

    /**
     * @param list<array{string, string}> $more
     *
     * @return \Closure(string, string=, list<array{string, string}>=): SipMessage what is asked within the call that stands by this
     */
    private function standing(string $to, array $more, string $offer): \Closure
    {
        $answer = $this->asked('INVITE', '2101', 'secret-of-2101', $to, [['Content-Type', 'application/sdp'], ...$more], $offer);
        self::assertSame(200, $answer->status);
        $sequence = $answer->sequence();
        $this->line->tell($this->within($answer, 'ACK', $sequence), $this->pbx, 5060);
        $this->answers[$answer->callId()] = $answer;

        return function (string $method, string $body = '', array $headers = []) use ($answer, &$sequence): SipMessage {
            ++$sequence;
            /** @var list<array{string, string}> $all */
            $all = ['' === $body ? ['Accept', 'application/sdp'] : ['Content-Type', 'application/sdp'], ...$headers];
            $heard = $this->line->ask($this->within($answer, $method, $sequence, $all, $body), $this->pbx, 5060, 6.0);
            if ('INVITE' === $method && null !== $heard && $heard->status < 300) {
                $this->line->tell($this->within($answer, 'ACK', $sequence), $this->pbx, 5060);
            }

            return $heard ?? self::fail('no answer to '.$method);
        };
    }

    /** @return iterable<string, array{string}> */
    public static function calls(): iterable
    {
        yield 'straight to a phone' => ['2102'];
        yield 'by a group, through the switchboard' => ['2300'];
        yield 'to the menu, which the PBX speaks itself' => ['2200'];
    }

    #[DataProvider('calls')]
    public function testACallIsPutOnHoldAndTakenBackAndStandsByItsTime(string $to): void
    {
        $media = new LoopbackGuest();
        $heard = 0;
        async(static function () use ($media, &$heard): void {
            while (null !== $media->receive()) {
                ++$heard;
            }
        })->ignore();
        $offer = static fn (Direction $direction, int $version): string => (string) new Session(
            Ipv4::fromString('127.0.0.1'),
            $media->port(),
            [Session::PCMU],
            1,
            null,
            $direction,
            $version,
        );
        $time = [['Supported', 'timer'], ['Session-Expires', '1800']];
        $ask = $this->standing($to, $time, $offer(Direction::Both, 1));
        $answer = $this->answers[array_key_last($this->answers)];
        self::assertSame(['1800;refresher=uac', 'timer'], [$answer->header('Session-Expires'), $answer->header('Require')]);
        delay(0.5);
        self::assertGreaterThan(10, $heard);

        $held = $ask('INVITE', $offer(Direction::Sends, 2), $time);
        self::assertSame([200, '1800;refresher=uac'], [$held->status, $held->header('Session-Expires')]);
        self::assertStringContainsString('a=recvonly', $held->body, 'RFC 3264 §8.4: it hears, and sends nothing');
        self::assertStringContainsString('o=- 1 2 IN', $held->body);
        delay(0.2);
        $before = $heard;
        delay(0.4);
        self::assertLessThan($before + 3, $heard);

        self::assertSame(200, $ask('UPDATE', '', $time)->status, 'a word that changes nothing');
        $back = $ask('INVITE', $offer(Direction::Both, 3));
        self::assertStringContainsString('a=sendrecv', $back->body);
        $before = $heard;
        delay(0.4);
        self::assertGreaterThan($before + 8, $heard);
        self::assertSame(488, $ask('INVITE', (string) new FaxSession(Ipv4::fromString('127.0.0.1'), 49999))->status, 'it is no fax');
        $short = $ask('INVITE', $offer(Direction::Both, 4), [['Supported', 'timer'], ['Session-Expires', '60']]);
        self::assertSame([422, '90'], [$short->status, $short->header('Min-SE')]);
        self::assertSame(200, $ask('BYE')->status);
        $media->close();
    }

    public function testWhoWasCalledHandsTheCallerOn(): void
    {
        $heard = [];
        $take = function (SipMessage $request, Ipv4 $from, int $port) use (&$heard): void {
            $heard[] = $request->method;
            $isCall = 'INVITE' === $request->method;
            if ($isCall) {
                $heard['invite'] = $request;
            }
            $headers = [['Contact', '<sip:2102@127.0.0.1:'.$this->second?->socket->port().'>'], ['Content-Type', 'application/sdp']];
            $answer = SipMessage::response($request, 200, null, $isCall ? $headers : [], $isCall ? self::offer() : '', 'two');
            if ('ACK' !== $request->method) {
                $this->second?->answer($request, $answer, $from, $port);
            }
        };
        $this->second = $second = new SipLine(new LoopbackGuest(), $take);
        // It registers beside the phone, picks up at once, and so has the call.
        $first = $this->line;
        $this->line = $second;
        $this->asked('REGISTER', '2102', 'secret-of-2102', '2102', [['Expires', '60']]);
        $this->line = $first;
        $answer = $this->asked('INVITE', '2101', 'secret-of-2101', '2300', [['Content-Type', 'application/sdp']], self::offer());
        self::assertSame(200, $answer->status);
        $this->line->tell($this->within($answer, 'ACK', $answer->sequence()), $this->pbx, 5060);
        delay(0.2);
        $invite = $heard['invite'] ?? self::fail('it was not rung');
        self::assertInstanceOf(SipMessage::class, $invite);
        $far = SipAddress::fromString((string) $invite->header('Contact'))->uri;
        $refer = static fn (string $to, int $n): SipMessage => SipMessage::request('REFER', $far, [
            ['Via', $second->via()],
            ['Max-Forwards', '70'],
            ['From', $invite->header('To').';tag=two'],
            ['To', (string) $invite->header('From')],
            ['Call-ID', $invite->callId()],
            ['CSeq', $n.' REFER'],
            ['Refer-To', $to],
        ]);
        self::assertSame(400, $second->ask($refer('nobody', 1), $this->pbx, 5060, 3.0)?->status);
        self::assertSame(202, $second->ask($refer('<sip:2200@pbx>', 2), $this->pbx, 5060, 3.0)?->status);
        delay(0.6);
        self::assertContains('NOTIFY', $heard);
        self::assertContains('BYE', $heard, 'who handed on is out of it');
        self::assertSame(200, $this->line->ask($this->within($answer, 'BYE', $answer->sequence() + 1), $this->pbx, 5060, 4.0)?->status);
        self::assertContains('UPDATE', $this->heard, 'and the caller was told who speaks now');
        $second->close();
    }

    public function testVoicemailAnswersWhenNobodyPicksUpAndSaysWhoItIs(): void
    {
        $this->bench->play(InjectedFault::VoicemailAnswers, 'b');
        $before = microtime(true);
        $answer = $this->asked('INVITE', '2101', 'secret-of-2101', '2102', [['Content-Type', 'application/sdp']], self::offer());
        self::assertSame([200, 'voicemail', (string) $this->pbx], [
            $answer->status,
            SipAddress::fromString((string) $answer->header('Contact'))->user(),
            SipAddress::fromString((string) $answer->header('Contact'))->host(),
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
