<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Digest;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Loopback;
use Vorhut\Tests\Support\LabBench;
use Vorhut\Tests\Support\LoopbackGuest;

/** What a party that keeps to the standards sees of the stand-ins, datagram by datagram. */
final class SipRulesTest extends TestCase
{
    private LabBench $bench;
    private LoopbackGuest $guest;
    private Ipv4 $pbx;
    private Ipv4 $codec;
    private int $sequence = 0;

    protected function setUp(): void
    {
        static $net = 190;
        \assert(\is_int($net));
        $this->bench = new LabBench($net);
        $this->pbx = (new Loopback())->of(Ipv4::fromString("10.$net.20.10"));
        $this->codec = (new Loopback())->of(Ipv4::fromString("10.$net.20.12"));
        ++$net;
        $this->guest = new LoopbackGuest();
    }

    protected function tearDown(): void
    {
        $this->guest->close();
        $this->bench->close();
    }

    /** @param list<array{string, string}> $more */
    private function request(
        string $method,
        string $uri,
        array $more = [],
        string $body = '',
        string $call = '',
        string $to = '',
    ): SipMessage {
        return SipMessage::request($method, $uri, [
            ['Via', \sprintf('SIP/2.0/UDP host.invalid:%d;rport;branch=z9hG4bK%s', $this->guest->port(), bin2hex(random_bytes(6)))],
            ...([] === array_filter($more, static fn (array $one): bool => 'Max-Forwards' === $one[0]) ? [['Max-Forwards', '70']] : []),
            ['From', "<sip:2101@$this->pbx>;tag=f"],
            ['To', '' === $to ? "<$uri>" : $to],
            ['Call-ID', '' === $call ? bin2hex(random_bytes(6)) : $call],
            ['CSeq', ++$this->sequence.' '.$method],
            ['Contact', \sprintf('<sip:2101@127.0.0.1:%d>', $this->guest->port())],
            ...$more,
        ], $body);
    }

    /** The first final answer. */
    private function asked(SipMessage $request, ?Ipv4 $host = null): SipMessage
    {
        $this->guest->send($host ?? $this->pbx, 5060, (string) $request);
        do {
            $answer = $this->heard(6.0) ?? self::fail('nothing came');
        } while ($answer->status < 200);

        return $answer;
    }

    private function heard(float $seconds): ?SipMessage
    {
        $received = $this->guest->receive($seconds);

        return null === $received ? null : SipMessage::fromString($received[2]);
    }

    /** @return list<array{string, string}> */
    private function proof(SipMessage $challenge, string $method, string $uri, string $nonce = ''): array
    {
        $digest = Digest::tryFromString((string) $challenge->header('Proxy-Authenticate')) ?? self::fail('no challenge');
        $digest = '' === $nonce ? $digest : Digest::challenge($digest->field('realm'), $nonce, 'SHA-256');

        return [['Proxy-Authorization', (string) $digest->answer('2101', 'secret-of-2101', $method, $uri, 'c')]];
    }

    private static function offer(int $port): string
    {
        return (string) new Session(Ipv4::fromString('127.0.0.1'), $port, [Session::PCMU]);
    }

    public function testAnswersCarryATagAndSayWhereTheRequestCameFrom(): void
    {
        foreach ([$this->pbx, $this->codec] as $host) {
            $answer = $this->asked($this->request('OPTIONS', "sip:$host"), $host);
            self::assertSame(200, $answer->status);
            self::assertNotNull($answer->to()->parameter('tag'));
            self::assertStringContainsString(';received=127.0.0.1;rport='.$this->guest->port(), (string) $answer->header('Via'));
            $refused = $this->asked($this->request('PUBLISH', "sip:$host"), $host);
            self::assertSame(405, $refused->status);
            self::assertStringContainsString('OPTIONS', implode(',', $refused->headers('Allow')));
        }
    }

    public function testAPasswordIsProvedForOneAddressAndALateNonceIsStale(): void
    {
        $uri = "sip:2102@$this->pbx";
        $challenge = $this->asked($this->request('INVITE', $uri, [], self::offer(49170)));
        self::assertSame(407, $challenge->status);
        $this->asked($this->request('OPTIONS', "sip:$this->pbx"));
        $elsewhere = $this->asked(
            $this->request('INVITE', $uri, $this->proof($challenge, 'INVITE', "sip:2103@$this->pbx"), self::offer(49170)),
        );
        self::assertSame(400, $elsewhere->status);
        $late = $this->asked($this->request('INVITE', $uri, $this->proof($challenge, 'INVITE', $uri, 'long-ago'), self::offer(49170)));
        self::assertSame(407, $late->status);
        self::assertStringContainsString('stale=true', implode(' ', $late->headers('Proxy-Authenticate')));
        $hopless = $this->asked($this->request(
            'INVITE',
            $uri,
            [['Max-Forwards', '0'], ...$this->proof($challenge, 'INVITE', $uri)],
            self::offer(49170),
        ));
        self::assertSame(483, $hopless->status);
        self::assertSame(400, $this->asked($this->request('OPTIONS', "sip:$this->pbx", [['Max-Forwards', 'many']]))->status);
    }

    public function testACallThatNobodyKnowsIsAnsweredAtOnce(): void
    {
        $before = microtime(true);
        foreach ([$this->pbx, $this->codec] as $host) {
            $bye = $this->request('BYE', "sip:2102@$host", [], '', '', "<sip:2102@$host>;tag=gone");
            self::assertSame(481, $this->asked($bye, $host)->status);
        }
        self::assertLessThan(3.0, microtime(true) - $before);
    }

    public function testAnAnswerComesAgainUntilItIsAcknowledgedAndThenNoMore(): void
    {
        $uri = "sip:room@$this->codec";
        $invite = $this->request('INVITE', $uri, [['Content-Type', 'application/sdp']], self::offer(49170));
        $answer = $this->asked($invite, $this->codec);
        self::assertSame(200, $answer->status);
        $again = $this->heard(1.5);
        self::assertSame((string) $answer, (string) $again, 'the 200 comes again (RFC 3261 §13.3.1.4)');
        $ack = $this->request('ACK', (string) $answer->to()->uri, [], '', $answer->callId(), (string) $answer->header('To'))
            ->with('CSeq', $answer->sequence().' ACK');
        $this->guest->send($this->codec, 5060, (string) $ack);
        while (null !== $late = $this->guest->receive(0.3)) {
            self::assertStringNotContainsString('SIP/2.0 200', $late[2]);
        }
        self::assertNull($this->guest->receive(2.2), 'and once it is acknowledged no more');
        $busy = $this->asked($this->request('INVITE', $uri, [['Content-Type', 'application/sdp']], self::offer(49172)), $this->codec);
        self::assertSame(486, $busy->status);
        self::assertSame(486, $this->heard(1.5)?->status, 'a refusal too (§17.2.1)');
        $bye = $this->request('BYE', $uri, [], '', $answer->callId(), (string) $answer->header('To'));
        $this->guest->send($this->codec, 5060, (string) $bye);
        do {
            $end = $this->heard(2.0);
        } while (null !== $end && 'BYE' !== $end->sequenceMethod());
        self::assertSame(200, $end?->status);
    }

    public function testWithoutAnOfferItMakesOneItself(): void
    {
        $uri = "sip:room@$this->codec";
        $answer = $this->asked($this->request('INVITE', $uri), $this->codec);
        self::assertSame(200, $answer->status);
        self::assertContains(Session::PCMU, Session::fromString($answer->body)->formats);
        $sound = new LoopbackGuest();
        $ack = $this->request(
            'ACK',
            $uri,
            [['Content-Type', 'application/sdp']],
            self::offer($sound->port()),
            $answer->callId(),
            (string) $answer->header('To')
        )->with('CSeq', $answer->sequence().' ACK');
        $this->guest->send($this->codec, 5060, (string) $ack);
        $packet = $sound->receive(2.0);
        $sound->close();
        self::assertSame(172, \strlen($packet[2] ?? ''), 'sound comes to where the ACK says');
    }

    public function testEachPlaceOfAUserRingsAndARefusalIsAcknowledged(): void
    {
        $uri = "sip:$this->pbx";
        $place = new LoopbackGuest();
        $contact = [['Contact', \sprintf('<sip:2102@127.0.0.1:%d>', $place->port())], ['Expires', '30']];
        $register = fn (string $proof): SipMessage => SipMessage::request('REGISTER', $uri, [
            ['Via', \sprintf('SIP/2.0/UDP 127.0.0.1:%d;branch=z9hG4bK%s', $place->port(), bin2hex(random_bytes(6)))],
            ['From', "<sip:2102@$this->pbx>;tag=r"], ['To', "<sip:2102@$this->pbx>"], ['Call-ID', 'reg'],
            ['CSeq', ++$this->sequence.' REGISTER'], ...$contact,
            ...('' === $proof ? [] : [['Authorization', $proof]]),
        ]);
        $place->send($this->pbx, 5060, (string) $register(''));
        $challenge = SipMessage::fromString($place->receive(3.0)[2] ?? '');
        $digest = Digest::tryFromString((string) $challenge->header('WWW-Authenticate')) ?? self::fail('no challenge');
        $place->send($this->pbx, 5060, (string) $register(
            (string) $digest->answer('2102', 'secret-of-2102', 'REGISTER', $uri, 'c'),
        ));
        self::assertSame(200, SipMessage::fromString($place->receive(3.0)[2] ?? '')->status);

        $to = "sip:2102@$this->pbx";
        $proof = $this->proof($this->asked($this->request('INVITE', $to, [], self::offer(49170))), 'INVITE', $to);
        $invite = $this->request('INVITE', $to, [['Content-Type', 'application/sdp'], ...$proof], self::offer(49170));
        $this->guest->send($this->pbx, 5060, (string) $invite);
        $rang = SipMessage::fromString($place->receive(3.0)[2] ?? '');
        self::assertSame(['INVITE', '69'], [$rang->method, $rang->header('Max-Forwards')]);
        $place->send($this->pbx, 5060, (string) SipMessage::response($rang, 486));
        $methods = [];
        do {
            $received = $place->receive(2.5);
            $methods[] = null === $received ? '' : SipMessage::fromString($received[2])->method;
        } while (null !== $received && 'ACK' !== end($methods));
        self::assertContains('ACK', $methods, 'a refusal is acknowledged (§17.1.1.3)');
        do {
            $answer = $this->heard(4.0);
        } while (null !== $answer && $answer->status < 200);
        self::assertSame(200, $answer?->status, 'the phone has the call');
        $place->close();
    }
}
