<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\BindContext;
use Amp\Socket\Certificate;
use Amp\Socket\ServerSocket;
use Amp\Socket\ServerTlsContext;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Background;
use Vorhut\Socket\DescriptorLimit;
use Vorhut\Socket\Loopback;

use function Amp\Socket\listen;

/** Accepts connections at a stand-in's address and hands each to a function. */
final class TcpServer implements Behaviour
{
    private const HANDSHAKE = 5.0;
    /** Connections at once: a device has no more, and the lab has descriptors for all of its devices together. */
    private const MOST = 64;
    /** Descriptors that stay free for the rest of the lab. */
    private const KEPT_FREE = 60;

    private ServerSocket $server;
    private int $open = 0;

    /**
     * @param Ipv4                   $host  where it listens on loopback
     * @param \Closure(Socket): void $serve
     */
    public function __construct(Ipv4 $host, int $port, \Closure $serve, ?BindContext $context = null)
    {
        $this->server = listen($host.':'.Loopback::port($port), $context);
        $secured = null !== $context?->getTlsContext();
        Background::run('TCP', function () use ($serve, $secured): void {
            while (null !== $client = $this->server->accept()) {
                if ($this->open >= self::MOST || !DescriptorLimit::isLeft(self::KEPT_FREE)) {
                    $client->close();
                    continue;
                }
                ++$this->open;
                Background::run('TCP', function () use ($serve, $client, $secured): void {
                    try {
                        if ($secured) {
                            $client->setupTls(new TimeoutCancellation(self::HANDSHAKE));
                        }
                        $serve($client);
                    } catch (StreamException|SocketException|CancelledException) {
                        // The other end went away, or speaks no TLS where TLS is spoken.
                    } finally {
                        --$this->open;
                        $client->close();
                    }
                });
            }
        });
    }

    /**
     * The same behind TLS.
     *
     * @param \Closure(Socket): void $serve
     */
    public static function overTls(Ipv4 $host, int $port, Certificate $certificate, \Closure $serve): self
    {
        return new self(
            $host,
            $port,
            $serve,
            (new BindContext())->withTlsContext((new ServerTlsContext())->withDefaultCertificate($certificate)),
        );
    }

    /** A service that says who it is and waits: enough to prove that the port is served. */
    public static function greeting(Ipv4 $host, int $port, string $text): self
    {
        return new self($host, $port, static function (Socket $client) use ($text): void {
            $client->write($text."\r\n");
            $client->read();
        });
    }

    public function end(): void
    {
        $this->server->close();
    }
}
