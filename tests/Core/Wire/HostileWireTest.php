<?php

declare(strict_types=1);

namespace Vorhut\Tests\Core\Wire;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Ptp\Announce;
use Vorhut\Core\Wire\Rtp\PlayMark;
use Vorhut\Core\Wire\Rtp\RtpPacket;
use Vorhut\Core\Wire\Sip\CalledNumber;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Core\Wire\Srt\Handshake;
use Vorhut\Core\Wire\Srt\KeyMaterial;

/** Whatever comes off a wire is read or refused: nothing else is thrown, nothing is read beyond its end. */
final class HostileWireTest extends TestCase
{
    /** @return iterable<string, array{string, \Closure(string): mixed}> a good one, and what reads it */
    public static function readers(): iterable
    {
        $here = Ipv4::fromString('192.0.2.7');
        yield 'Announce' => [(string) new Announce(str_repeat("\1", 8), str_repeat("\2", 8)), Announce::fromString(...)];
        yield 'handshake' => [
            (string) Handshake::induction(7, $here, 1)->induct(9, $here)->conclusion(7, $here, 1, [
                Handshake::HSREQ => Handshake::terms(200),
                Handshake::KMREQ => KeyMaterial::wrap('harbour-at-night', str_repeat('s', 16), str_repeat('k', 16)),
            ]),
            static fn (string $bytes): array => array_map(
                static fn (string $one): array => [Handshake::latency($one), KeyMaterial::unwrap(substr($one, 0, 20), 'x')],
                Handshake::fromString($bytes)->extensions,
            ),
        ];
        yield 'RTP with a mark' => [
            (string) new RtpPacket(96, 1, 1, 1, 'pictures', true, (new PlayMark(3, $here))->extension()),
            static fn (string $bytes): ?PlayMark => PlayMark::of(RtpPacket::fromString($bytes)),
        ];
        yield 'a called number' => [
            "INVITE sip:fax@192.0.2.9 SIP/2.0\r\nTo: <sip:fax@192.0.2.9>\r\nFrom: <sip:1@192.0.2.1>;tag=1\r\n"
                ."Call-ID: x\r\nCSeq: 1 INVITE\r\nVia: SIP/2.0/UDP 192.0.2.1;branch=z9hG4bKx\r\n"
                ."Diversion: \"A, b\" <sip:1@192.0.2.1>, <sip:2@192.0.2.1>\r\n"
                ."History-Info: <sip:1@192.0.2.1>;index=1\r\n\r\n",
            static fn (string $bytes): array => array_map(
                static fn (CalledNumber $way): ?string => $way->in(SipMessage::fromString($bytes)),
                CalledNumber::cases(),
            ),
        ];
    }

    /** @param \Closure(string): mixed $read */
    #[DataProvider('readers')]
    public function testItIsReadOrRefused(string $good, \Closure $read): void
    {
        $read($good);
        $random = new Randomizer(new Mt19937(11));
        $before = memory_get_usage();
        $refused = 0;
        for ($n = 0; $n < 4000; ++$n) {
            $bytes = $good;
            for ($i = $random->getInt(1, 4); $i > 0; --$i) {
                $at = $random->getInt(0, max(0, \strlen($bytes) - 1));
                $bytes = match ($random->getInt(0, 3)) {
                    0 => substr_replace($bytes, $random->getBytes(1), $at, 1),
                    1 => substr($bytes, 0, $at),
                    2 => substr_replace($bytes, $random->getBytes($random->getInt(1, 9)), $at, 0),
                    default => substr_replace($bytes, "\xFF\xFF", $at, 2),
                };
            }
            try {
                $read($bytes);
            } catch (ParseError) {
                ++$refused;
            }
        }
        self::assertGreaterThan(0, $refused);
        self::assertLessThan(2_000_000, memory_get_usage() - $before, 'and nothing of it is kept');
    }
}
