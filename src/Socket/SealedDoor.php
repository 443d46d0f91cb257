<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\BindContext;
use Amp\Socket\Certificate;
use Amp\Socket\InternetAddress;
use Amp\Socket\ServerSocket;
use Amp\Socket\ServerTlsContext;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Wire\Http\Request;
use Vorhut\Core\Wire\Http\Response;
use Vorhut\Core\Wire\ParseError;

use function Amp\delay;
use function Amp\Socket\listen;

/**
 * HTTP over TLS (RFC 9110 §4.2.2), one question a connection, each name with a certificate of its own (RFC 6066 §3). Phones that come
 * all at once wait their turn; an address that holds its connections open without asking is refused more of them.
 */
final class SealedDoor
{
    /** Connections at once: what `select()` knows is a thousand, and the database takes some. */
    public const MOST = 400;
    /** Per address: a whole site may share one, and no single address may use all connections. */
    public const MOST_OF_ONE = 200;
    /** Seconds after which a connection is slow: a crowd of phones is served faster than that, each of them. */
    private const SLOW = 2.5;
    /** Connections that the system keeps while they wait (listen(2)). */
    private const WAITING = 4096;
    private const HANDSHAKE = 5.0;
    /** Seconds from the handshake to the end of the question. */
    private const QUESTION = 10.0;

    private ?ServerSocket $server = null;
    private int $number = 0;
    /** @var array<string, array<int, float>> address → its connections, the oldest first: when each came, in seconds */
    private array $open = [];

    /** @param \Closure(Request, string): Response $answer given the question and the address it came from */
    public function __construct(private readonly string $listen, private readonly \Closure $answer)
    {
    }

    /**
     * Replaces the certificates. Open connections are served to their end.
     *
     * @param array<string, Certificate> $certificates by the requested host name
     * @param Certificate|null           $else         for clients without a host name, such as those that connect by address
     *
     * @throws SocketException where the port is taken
     */
    public function show(array $certificates, ?Certificate $else): void
    {
        $before = $this->server;
        $tls = (new ServerTlsContext())->withCertificates($certificates)->withDefaultCertificate($else);
        // The new one listens before the old one closes, so no connection is refused.
        $server = [] === $certificates && null === $else
            ? null
            : listen($this->listen, (new BindContext())->withReusePort()->withBacklog(self::WAITING)->withTlsContext($tls));
        $this->server = $server;
        if (null !== $server) {
            Background::run('HTTPS', function () use ($server): void {
                while (null !== $client = $server->accept()) {
                    $peer = $client->getRemoteAddress();
                    $from = $peer instanceof InternetAddress ? $peer->getAddress() : '';
                    if (!$this->hasRoom($from)) {
                        $client->close();
                        continue;
                    }
                    $number = ++$this->number;
                    $this->open[$from][$number] = microtime(true);
                    Background::run('HTTPS', fn () => $this->serve($client, $from, $number));
                }
            });
        }
        $before?->close();
    }

    public function isOpen(): bool
    {
        return null !== $this->server;
    }

    public function close(): void
    {
        $this->server?->close();
        $this->server = null;
    }

    /** Waits until there is room; there is none where those who are in the way are slow. */
    private function hasRoom(string $from): bool
    {
        while (true) {
            $isFull = array_sum(array_map(count(...), $this->open)) >= self::MOST;
            $own = $this->open[$from] ?? [];
            if (!$isFull && \count($own) < self::MOST_OF_ONE) {
                return true;
            }
            $oldest = min([microtime(true), ...($isFull ? array_merge(...array_values($this->open)) : $own)]);
            if (microtime(true) - $oldest > self::SLOW) {
                return false;
            }
            delay(0.01);
        }
    }

    private function serve(Socket $client, string $from, int $number): void
    {
        try {
            $client->setupTls(new TimeoutCancellation(self::HANDSHAKE));
            $limit = new TimeoutCancellation(self::QUESTION);
            $bytes = '';
            while (null === ($length = Request::length($bytes)) || \strlen($bytes) < $length) {
                $more = $client->read($limit);
                if (null === $more) {
                    return;
                }
                $bytes .= $more;
            }
            try {
                $response = ($this->answer)(Request::fromString($bytes), $from);
            } catch (ParseError) {
                $response = new Response(400);
            }
            $client->write((string) $response);
        } catch (ParseError|StreamException|SocketException|CancelledException) {
            // Too long, too slow, gone, or not TLS: the client gets no answer.
        } finally {
            unset($this->open[$from][$number]);
            if ([] === $this->open[$from]) {
                unset($this->open[$from]);
            }
            $client->close();
        }
    }
}
