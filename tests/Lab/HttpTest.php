<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use Amp\DeferredFuture;
use Amp\Future;
use Amp\Socket\Socket;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\Http;
use Vorhut\Outpost\Probe\NoAnswer;
use Vorhut\Outpost\Probe\SiteAccess;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Tests\Support\Jobs;

use function Amp\async;
use function Amp\Socket\listen;

/** What real devices answer over HTTP, octet by octet (RFC 9112). */
final class HttpTest extends TestCase
{
    /** @var list<string> what the device heard */
    private array $heard = [];

    /**
     * @param string $answer to each request
     * @param bool              $stays keeps the connection open after the answer
     * @param array{string, string}|null $login name and password
     * @param Future<void>|null $after what the device waits for before it answers
     */
    private function ask(string $answer, bool $stays = false, float $seconds = 1.0, ?array $login = null, ?Future $after = null): Response
    {
        $this->heard = [];
        $server = listen('127.0.0.1:0');
        async(function () use ($server, $answer, $stays, $after): void {
            while (null !== $client = $server->accept()) {
                async(fn () => $this->serve($client, $answer, $stays, $after))->ignore();
            }
        })->ignore();
        $port = (int) substr((string) strrchr($server->getAddress()->toString(), ':'), 1);
        $place = new VantagePoint((new Jobs())->plan(), 'here', new Adapter('lo', Ipv4::fromString('127.0.0.1')));
        try {
            return (new Http(new SiteAccess()))->ask(
                $place,
                Ipv4::fromString('127.0.0.1'),
                $port,
                'GET',
                '/status',
                $login,
                '',
                $seconds,
            );
        } finally {
            $server->close();
        }
    }

    /** @param Future<void>|null $after */
    private function serve(Socket $client, string $answer, bool $stays, ?Future $after): void
    {
        while (null !== $request = $client->read()) {
            $this->heard[] = $request;
            $after?->await();
            $client->write($answer);
            if (!$stays) {
                break;
            }
        }
        $client->close();
    }

    /** @return iterable<string, array{string, bool}> an answer whose body is "Hello there" */
    public static function complete(): iterable
    {
        $text = 'Hello there';
        yield 'to the end of the connection' => ["HTTP/1.1 200 OK\r\n\r\n$text", false];
        yield 'with its length, kept alive' => ["HTTP/1.1 200 OK\r\nContent-Length: 11\r\n\r\n$text", true];
        yield 'in chunks, kept alive' => [
            "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n6\r\nHello \r\n5;x=1\r\nthere\r\n0\r\nTrailer: x\r\n\r\n",
            true,
        ];
        yield 'after an interim answer' => [
            "HTTP/1.1 102 Processing\r\n\r\nHTTP/1.1 200 OK\r\nContent-Length: 11\r\n\r\n$text",
            true,
        ];
        $packed = (string) gzencode($text);
        yield 'compressed' => [
            "HTTP/1.1 200 OK\r\nContent-Encoding: gzip\r\nContent-Length: ".\strlen($packed)."\r\n\r\n$packed",
            true,
        ];
        yield 'by an old server' => ["HTTP/1.0 200 OK\r\nServer: old\r\n\r\n$text", false];
        yield 'with more than its length' => ["HTTP/1.1 200 OK\r\nContent-Length: 11\r\n\r\n{$text} and more", true];
    }

    #[DataProvider('complete')]
    public function testACompleteAnswerIsReadHoweverItIsSent(string $answer, bool $stays): void
    {
        $begun = microtime(true);
        $response = $this->ask($answer, $stays, 3.0);
        self::assertSame([200, 'Hello there'], [$response->status, $response->body]);
        self::assertLessThan(2.0, microtime(true) - $begun, 'an open connection is not waited for');
    }

    public function testEveryCookieIsKeptAndNoRedirectIsFollowed(): void
    {
        $response = $this->ask(
            "HTTP/1.1 302 Found\r\nLocation: http://192.0.2.9/else\r\nSet-Cookie: seat=1a; HttpOnly\r\nSet-Cookie: lang=en; Path=/\r\n"
            ."Content-Length: 0\r\n\r\n",
            true,
        );
        self::assertSame(302, $response->status);
        self::assertSame(['seat=1a', 'lang=en'], $response->cookies);
        self::assertCount(1, $this->heard);
    }

    public function testNoSecretIsSentBeforeItIsAskedForAndADigestIsPreferred(): void
    {
        $this->ask(
            "HTTP/1.1 401 Unauthorized\r\nWWW-Authenticate: Basic realm=\"x\"\r\n"
            ."WWW-Authenticate: Digest realm=\"x\", nonce=\"abc\", qop=\"auth\", algorithm=MD5\r\nContent-Length: 0\r\n\r\n",
            false,
            1.0,
            ['admin', 'in-the-clear'],
        );
        self::assertCount(2, $this->heard);
        self::assertStringNotContainsString('uthorization', $this->heard[0]);
        self::assertStringContainsString('uthorization: Digest username="admin"', $this->heard[1]);
        self::assertStringNotContainsString(base64_encode('admin:in-the-clear'), implode('', $this->heard));
    }

    /** @return iterable<string, array{string, Outcome}> */
    public static function broken(): iterable
    {
        yield 'nothing at all' => ['', Outcome::BrokenOff];
        yield 'less than its length' => ["HTTP/1.1 200 OK\r\nContent-Length: 400\r\n\r\nHel", Outcome::BrokenOff];
        yield 'no last chunk' => ["HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n6\r\nHello \r\n", Outcome::BrokenOff];
    }

    #[DataProvider('broken')]
    public function testAnAnswerThatEndsEarlyIsToldFromSilence(string $answer, Outcome $outcome): void
    {
        try {
            $this->ask($answer);
            self::fail('it was cut short');
        } catch (NoAnswer $e) {
            self::assertSame($outcome, $e->outcome, $e->getMessage());
        }
    }

    public function testWhatIsNoHttpIsSaidToBeNone(): void
    {
        $this->expectException(ParseError::class);
        $this->ask("220 mail.example ready\r\n");
    }

    public function testAnAnswerThatDoesNotEndIsCutAtItsLimits(): void
    {
        try {
            $this->ask("HTTP/1.1 200 OK\r\nContent-Length: 400\r\n\r\nHel", true, 0.3);
            self::fail('it never ends');
        } catch (NoAnswer $e) {
            self::assertSame(Outcome::Silent, $e->outcome);
        }
        $large = $this->ask("HTTP/1.1 200 OK\r\n\r\n".str_repeat('<p>more</p>', 60_000), false, 3.0);
        self::assertSame([200, 262_144], [$large->status, \strlen($large->body)]);
    }

    public function testOtherWorkGoesOnWhileADeviceIsWaitedFor(): void
    {
        $ticks = 0;
        $other = new DeferredFuture();
        $timer = EventLoop::repeat(0.01, static function (string $timer) use (&$ticks, $other): void {
            if (20 === ++$ticks) {
                EventLoop::cancel($timer);
                $other->complete();
            }
        });
        try {
            $response = $this->ask("HTTP/1.1 200 OK\r\nContent-Length: 5\r\n\r\nHello", false, 30.0, after: $other->getFuture());
        } finally {
            EventLoop::cancel($timer);
        }
        self::assertSame('Hello', $response->body, 'the device answers only when the other work is done');
    }
}
