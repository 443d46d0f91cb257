<?php

declare(strict_types=1);

namespace Vorhut\Tests\Lab;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Future;
use Amp\Socket\Certificate;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\ConnectContext;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Vorhut\Core\Net\HostName;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\Tls\CertificateChain;
use Vorhut\Secrets\Authority;
use Vorhut\Socket\SealedDoor;

use function Amp\async;
use function Amp\delay;
use function Amp\Socket\connect;
use function Amp\Socket\listen;

/** The door for phones, by real sockets: each name its own certificate, and whoever means ill keeps nobody waiting. */
final class SealedDoorTest extends TestCase
{
    private string $folder;
    private string $at;
    private SealedDoor $door;
    private Authority $authority;
    private int $asked = 0;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/vorhut-door-'.bin2hex(random_bytes(6));
        mkdir($this->folder, 0o700);
        $probe = listen('127.0.0.1:0');
        $this->at = $probe->getAddress()->toString();
        $probe->close();
        $this->authority = Authority::fresh('the test');
        file_put_contents($this->folder.'/authority.pem', $this->authority->certificate);
        $this->door = new SealedDoor($this->at, function (Request $request, string $from): Response {
            ++$this->asked;

            return new Response(200, [], $request->path.' from '.$from);
        });
    }

    protected function tearDown(): void
    {
        $this->door->close();
        delay(0.02);
        array_map(unlink(...), glob($this->folder.'/*') ?: []);
        rmdir($this->folder);
    }

    private function certificate(string $host): Certificate
    {
        $made = $this->authority->issue(Ipv4::tryFromString($host) ?? HostName::fromString($host));
        $file = $this->folder.'/'.$host.'.pem';
        file_put_contents($file, $made->certificate.$this->authority->certificate.$made->key);

        return new Certificate($file);
    }

    private function ask(string $host, string $path = '/p/x', string $from = '127.0.0.1'): string
    {
        try {
            $socket = $this->open($host, $from);
            $socket->write((string) new Request('GET', $path, ['host' => $host]));
            $bytes = '';
            while (null !== $more = $socket->read(new TimeoutCancellation(5))) {
                $bytes .= $more;
            }

            return Response::fromString($bytes)->body;
        } catch (SocketException|StreamException|CancelledException $e) {
            return $e::class;
        }
    }

    private function open(string $host, string $from = '127.0.0.1'): Socket
    {
        $socket = connect($this->at, (new ConnectContext())->withBindTo($from.':0')->withTlsContext(
            (new ClientTlsContext($host))->withCaFile($this->folder.'/authority.pem'),
        ));
        $socket->setupTls(new TimeoutCancellation(5));

        return $socket;
    }

    public function testEachNameHasItsOwnAndAnotherProgramFollowsIt(): void
    {
        $this->door->show(
            ['a.example' => $this->certificate('a.example'), 'b.example' => $this->certificate('b.example')],
            $this->certificate('127.0.0.1'),
        );
        foreach (['a.example', 'b.example', '127.0.0.1'] as $host) {
            self::assertSame('/p/x from 127.0.0.1', $this->ask($host), $host);
        }
        self::assertStringContainsString('Exception', $this->ask('c.example'));
        $tool = new Process([
            'openssl', 's_client', '-connect', $this->at, '-servername', 'b.example', '-verify_hostname', 'b.example',
            '-CAfile', $this->folder.'/authority.pem', '-verify_return_error', '-quiet',
        ], input: "GET /p/y HTTP/1.1\r\nHost: b.example\r\n\r\n");
        $tool->start();
        for ($i = 0; $i < 100 && $tool->isRunning(); ++$i) {
            delay(0.05);
        }
        self::assertStringContainsString('/p/y from 127.0.0.1', $tool->getOutput(), $tool->getErrorOutput());
    }

    public function testWhatIsShownChangesWithoutTheDoorBeingShut(): void
    {
        $first = $this->certificate('a.example');
        $this->door->show(['a.example' => $first], null);
        self::assertTrue($this->door->isOpen());
        $held = $this->open('a.example');
        $this->door->show(['a.example' => $first, 'b.example' => $this->certificate('b.example')], null);
        self::assertSame('/p/x from 127.0.0.1', $this->ask('b.example'));
        $held->write((string) new Request('GET', '/p/z'));
        self::assertStringContainsString('/p/z from', (string) $held->read(new TimeoutCancellation(5)), 'served to the end');
        $this->door->show([], null);
        self::assertFalse($this->door->isOpen());
        self::assertStringContainsString('Exception', $this->ask('a.example'));
    }

    public function testWhoIsSlowSpeaksInTheClearOrTalksOnKeepsNobodyWaiting(): void
    {
        $this->door->show(['a.example' => $this->certificate('a.example')], null);
        $idle = [];
        for ($i = 0; $i < 40; ++$i) {
            $idle[] = connect($this->at);
        }
        $half = $this->open('a.example');
        $half->write("GET /p/x HTTP/1.1\r\nhost: a");
        $plain = connect($this->at);
        $plain->write("GET /p/x HTTP/1.1\r\n\r\n");
        $long = $this->open('a.example');
        async(static function () use ($long): void {
            for ($i = 0; $i < 40; ++$i) {
                $long->write(str_repeat('x', 1000));
            }
        })->ignore();
        $since = microtime(true);
        $answers = Future\await(array_map(fn (): Future => async(fn (): string => $this->ask('a.example')), range(1, 20)));
        self::assertSame(array_fill(0, 20, '/p/x from 127.0.0.1'), array_values($answers));
        self::assertLessThan(5.0, microtime(true) - $since);
        self::assertSame(20, $this->asked, 'none of the others was a question');
        self::assertNull($this->read($long), 'a head without end is let go');
        foreach ([...$idle, $half, $plain, $long] as $socket) {
            $socket->close();
        }
    }

    public function testItHoldsNoMoreThanItCan(): void
    {
        $this->door->show(['a.example' => $this->certificate('a.example')], null);
        $all = [];
        for ($i = 0; $i < SealedDoor::MOST_OF_ONE; ++$i) {
            $all[] = connect($this->at, (new ConnectContext())->withBindTo('127.0.0.7:0'));
        }
        delay(0.2);
        self::assertSame('/p/x from 127.0.0.1', $this->ask('a.example'), 'one address alone does not fill it');
        self::assertStringContainsString('Exception', $this->ask('a.example', from: '127.0.0.7'));
        for ($i = 0; $i < SealedDoor::MOST - SealedDoor::MOST_OF_ONE; ++$i) {
            $all[] = connect($this->at, (new ConnectContext())->withBindTo('127.0.0.8:0'));
        }
        delay(0.2);
        self::assertStringContainsString('Exception', $this->ask('a.example'), 'full');
        $all[0]->close();
        $all[1]->close();
        delay(0.2);
        self::assertSame('/p/x from 127.0.0.1', $this->ask('a.example'), 'one went');
        array_map(static fn (Socket $one) => $one->close(), $all);
    }

    public function testACrowdBehindOneAddressIsServedToTheLast(): void
    {
        $this->door->show(['a.example' => $this->certificate('a.example')], null);
        $answers = Future\await(array_map(
            fn (): Future => async(fn (): string => $this->ask('a.example', from: '127.0.0.9')),
            range(1, 320),
        ));
        self::assertSame(array_fill(0, 320, '/p/x from 127.0.0.9'), array_values($answers));
    }

    public function testNotAQuestionIsAnsweredAsSuch(): void
    {
        $this->door->show(['a.example' => $this->certificate('a.example')], null);
        $socket = $this->open('a.example');
        $socket->write("\x00\x01 nonsense\r\n\r\n");
        self::assertStringStartsWith('HTTP/1.1 400', (string) $socket->read(new TimeoutCancellation(5)));
        self::assertSame(['a.example'], CertificateChain::fromPem((string) file_get_contents($this->folder.'/a.example.pem'))->names);
    }

    private function read(Socket $socket): ?string
    {
        try {
            return $socket->read(new TimeoutCancellation(5));
        } catch (StreamException) {
            return null;
        }
    }
}
