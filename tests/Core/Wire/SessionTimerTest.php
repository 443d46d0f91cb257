<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sdp\Direction;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Refusal;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipMessage;

/** What is agreed on within a call: its time (RFC 4028), which way it goes (RFC 3264). */
final class SessionTimerTest extends TestCase
{
    /** @param list<array{string, string}> $headers */
    private static function invite(array $headers): SipMessage
    {
        return SipMessage::request('INVITE', 'sip:a@192.0.2.1', [
            ['Via', 'SIP/2.0/UDP 192.0.2.2;branch=z9hG4bK1'],
            ['From', '<sip:b@192.0.2.2>;tag=1'],
            ['To', '<sip:a@192.0.2.1>'],
            ['Call-ID', 'x'],
            ['CSeq', '1 INVITE'],
            ...$headers,
        ]);
    }

    #[TestWith(['4000', true, 4000, 3968.0])]
    #[TestWith(['4000;refresher=uac', true, 4000, 3968.0])]
    #[TestWith(['1800 ; Refresher = UAS', false, 1800, 1768.0])]
    #[TestWith(['90', true, 90, 60.0])]
    #[TestWith(['999999999', true, 86400, 86368.0])]
    public function testTheCallerNamesATimeAndWhoSaysTheWord(string $wanted, bool $byCaller, int $seconds, float $patience): void
    {
        $agreed = SessionTimer::negotiate(self::invite([['Supported', '100rel, timer'], ['Session-Expires', $wanted]]));
        self::assertInstanceOf(SessionTimer::class, $agreed);
        self::assertSame([$seconds, $byCaller, $patience], [$agreed->seconds, $agreed->isRefreshedByCaller, $agreed->patience()]);
        $headers = array_column($agreed->headers(), 1, 0);
        self::assertSame($seconds.';refresher='.($byCaller ? 'uac' : 'uas'), $headers['Session-Expires']);
        self::assertSame($byCaller, isset($headers['Require']), 'required of the caller where he says the word (§9)');
    }

    public function testTooShortATimeIsRefusedWithTheLeast(): void
    {
        $refusal = SessionTimer::negotiate(self::invite([['Require', 'timer'], ['Session-Expires', '89']]));
        self::assertInstanceOf(SipMessage::class, $refusal);
        self::assertSame([422, '90', 'Session Interval Too Small'], [$refusal->status, $refusal->header('Min-SE'), $refusal->reason]);
    }

    public function testWhoKnowsNothingOfItIsGivenNone(): void
    {
        self::assertNull(SessionTimer::negotiate(self::invite([['Session-Expires', '1800']])));
        self::assertNull(SessionTimer::negotiate(self::invite([['Supported', 'timer']])));
        self::assertNull(SessionTimer::negotiate(self::invite([['Supported', 'timer'], ['Session-Expires', 'soon']])));
    }

    public function testWhatIsRequiredAndKnownIsNotRefused(): void
    {
        $asked = self::invite([['Require', 'timer, precondition']]);
        self::assertSame('precondition', Refusal::of($asked, ['INVITE'], ['timer'])?->header('Unsupported'));
        self::assertSame('timer, precondition', Refusal::of($asked, ['INVITE'])?->header('Unsupported'));
        self::assertNull(Refusal::of(self::invite([['Require', 'Timer']]), ['INVITE'], ['timer']));
    }

    #[TestWith(['a=sendonly', Direction::Sends, 'recvonly', true])]
    #[TestWith(['a=recvonly', Direction::Hears, 'sendonly', false])]
    #[TestWith(['a=inactive', Direction::Neither, 'inactive', true])]
    #[TestWith(['a=sendrecv', Direction::Both, 'sendrecv', false])]
    #[TestWith(['a=ptime:20', Direction::Both, 'sendrecv', false])]
    public function testWhichWaySoundGoesIsAnsweredAsItIsMeant(string $line, Direction $direction, string $answered, bool $isOnHold): void
    {
        $own = new Session(Ipv4::fromString('192.0.2.1'), 40_000, [0]);
        foreach (["m=audio 4000 RTP/AVP 0\r\n$line\r\n", "$line\r\nm=audio 4000 RTP/AVP 0\r\n"] as $sound) {
            $offer = Session::fromString("c=IN IP4 192.0.2.2\r\n".$sound);
            self::assertSame([$direction, $isOnHold], [$offer->direction, $offer->isOnHold()]);
            self::assertStringEndsWith("a=$answered\r\n", (string) $own->answering($offer));
        }
        self::assertStringContainsString('o=- 1 2 IN', (string) $own->answering($offer), 'one version on (RFC 3264 §8)');
        // Of pictures beside it nothing is taken over, and who said it with an address of zeros is understood.
        self::assertSame(
            Direction::Both,
            Session::fromString("c=IN IP4 192.0.2.2\r\nm=audio 4000 RTP/AVP 0\r\nm=video 1 RTP/AVP 96\r\na=inactive\r\n")->direction,
        );
        self::assertTrue(Session::fromString("c=IN IP4 0.0.0.0\r\nm=audio 4000 RTP/AVP 0\r\n")->isOnHold());
    }
}
