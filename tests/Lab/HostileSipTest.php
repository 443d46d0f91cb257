<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\LabAccess;
use Vorhut\Outpost\Probe\SipCaller;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Socket\Background;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\LoopbackDatagrams;
use Vorhut\Tests\Support\Jobs;
use Vorhut\Tests\Support\LabBench;
use Vorhut\Tests\Support\SipMutations;

use function Amp\async;
use function Amp\delay;

/**
 * Whatever comes, the line stays up, answers the next, and grows by nothing. A few thousand in every run; `SIP_MUTATIONS=100000
 * vendor/bin/phpunit tests/Lab/HostileSipTest.php` for as many as one has patience for.
 */
final class HostileSipTest extends TestCase
{
    private const GROWTH = 10_000_000;

    private static function many(): int
    {
        $asked = getenv('SIP_MUTATIONS');

        return is_numeric($asked) ? (int) $asked : 3000;
    }

    /** @return non-empty-list<string> */
    private static function right(string $host): array
    {
        $offer = "v=0\r\no=- 1 1 IN IP4 127.0.0.1\r\ns=-\r\nc=IN IP4 127.0.0.1\r\nt=0 0\r\nm=audio 40000 RTP/AVP 0 8\r\n";
        $login = "Digest username=\"2101\", realm=\"vorhut\", nonce=\"#\", uri=\"sip:$host\", response=\"".str_repeat('0', 32).'"';
        $messages = [];
        foreach (['OPTIONS', 'REGISTER', 'INVITE', 'ACK', 'BYE', 'CANCEL', 'MESSAGE'] as $method) {
            $messages[] = (string) SipMessage::request($method, 'sip:2102@'.$host, [
                ['Via', 'SIP/2.0/UDP 127.0.0.1:9;branch=z9hG4bK#;rport'],
                ['Max-Forwards', '70'],
                ['From', '<sip:2101@'.$host.'>;tag=#'],
                ['To', '<sip:2102@'.$host.'>'],
                ['Call-ID', '#'],
                ['CSeq', '1 '.$method],
                ['Contact', '<sip:2101@127.0.0.1:9>'],
                ['Authorization', $login],
                ['Content-Type', 'application/sdp'],
                ['Supported', 'timer'],
                ['Session-Expires', '1800;refresher=uas'],
            ], 'INVITE' === $method ? $offer : '');
            $messages[] = (string) SipMessage::response(SipMessage::fromString($messages[\count($messages) - 1]), 200, body: $offer);
        }

        return $messages;
    }

    #[TestWith(['10.170.20.10', 170, 'register:2101'])]
    #[TestWith(['10.171.20.31', 171, 'register:2101'])]
    #[TestWith(['10.172.20.12', 172, 'reach:v>codec:80/tcp'])]
    #[TestWith(['10.174.20.10', 174, 'register:2101', 'tcp'])]
    #[TestWith(['10.175.20.40', 175, 'register:2101'])]
    public function testPbxPhoneAndCodecStayUp(string $host, int $net, string $after, string $over = 'udp'): void
    {
        $bench = new LabBench($net, static fn (Jobs $jobs): Jobs => $jobs
            ->device('fx', 'fax-server', 'v', ['address' => "10.$net.20.40"])
            ->change('settings', 'nics/fx.lan#address', 'set', "10.$net.20.40"));
        $reported = [];
        Background::reportTo(static function (string $what, \Throwable $e) use (&$reported): void {
            $reported[] = Background::line($what, $e);
        });
        try {
            $mutations = new SipMutations(self::right($host), 4475);
            $to = $over.'://'.(new Loopback())->of(Ipv4::fromString($host)).':5060';
            $open = static function () use ($to): mixed {
                $socket = stream_socket_client($to) ?: self::fail('There is no socket.');
                stream_set_blocking($socket, false);

                return $socket;
            };
            $socket = $open();
            $count = self::many();
            $warm = 0;
            for ($n = 1; $n <= $count; ++$n) {
                @fwrite($socket, $mutations->next());
                if ('tcp' === $over && 0 === $n % 7) {
                    // Where one message spoilt the stream, the next ones come by another.
                    fclose($socket);
                    $socket = $open();
                }
                if (0 === $n % 40) {
                    // What it answers is thrown away; what it works at gets its turn.
                    delay(0.002);
                    while ('' !== (string) @fread($socket, 65536)) {
                    }
                }
                if ($n === (int) ($count / 5)) {
                    gc_collect_cycles();
                    $warm = memory_get_usage();
                }
            }
            delay(0.5);
            gc_collect_cycles();
            self::assertLessThan($warm + self::GROWTH, memory_get_usage());
            self::assertSame([], $reported);
            self::assertContains($bench->prove($after)->outcome, [Outcome::Registered, Outcome::Answers], 'and it is there as before');
        } finally {
            Background::reportTo(null);
            $bench->close();
        }
    }

    public function testTheOutpostHearsAnythingFromAFarEnd(): void
    {
        $there = Ipv4::fromString('10.173.20.11');
        $far = new LoopbackDatagrams($there, 5060);
        $mutations = new SipMutations(self::right('127.173.20.11'), 4476);
        $each = 60;
        async(static function () use ($far, $mutations, $each): void {
            while (null !== $received = $far->receive()) {
                [$from, $port, $bytes] = $received;
                for ($n = 0; $n < $each; ++$n) {
                    $far->send($from, $port, $mutations->next());
                }
                try {
                    $far->send($from, $port, (string) SipMessage::response(SipMessage::fromString($bytes), 200));
                } catch (\Throwable) {
                    // Answers to what was sent are no requests.
                }
            }
        })->ignore();
        $plan = (new Jobs())->segment('v', '10.173.20.0/24')->plan();
        $place = new VantagePoint($plan, 'test', new Adapter('lab', Ipv4::fromString('10.173.20.20')));
        $warm = 0;
        $calls = max(10, (int) (self::many() / $each));
        for ($call = 1; $call <= $calls; ++$call) {
            $caller = new SipCaller(new LabAccess(1), $place, '2101', 'secret');
            self::assertSame(Outcome::Answers, $caller->alive($there)->outcome, "call $call");
            $caller->close();
            if ($call === (int) ($calls / 5)) {
                gc_collect_cycles();
                $warm = memory_get_usage();
            }
        }
        gc_collect_cycles();
        self::assertLessThan($warm + self::GROWTH, memory_get_usage());
        $far->close();
    }
}
