<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\ByteStream\StreamException;
use Amp\Socket\ServerSocket;
use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Background;
use Vorhut\Socket\Loopback;

use function Amp\Socket\listen;

/** Accepts connections at a stand-in's address and hands each to a function. */
final class TcpServer implements Behaviour
{
    private ServerSocket $server;

    /** @param \Closure(Socket): void $serve */
    public function __construct(Ipv4 $address, int $port, \Closure $serve)
    {
        $this->server = listen(Loopback::of($address).':'.Loopback::port($port));
        Background::run('TCP', function () use ($serve): void {
            while (null !== $client = $this->server->accept()) {
                Background::run('TCP', static function () use ($serve, $client): void {
                    try {
                        $serve($client);
                    } catch (StreamException) {
                        // The other end went away.
                    } finally {
                        $client->close();
                    }
                });
            }
        });
    }

    /** A service that says who it is and waits: enough to prove that the port is served. */
    public static function greeting(Ipv4 $address, int $port, string $text): self
    {
        return new self($address, $port, static function (Socket $client) use ($text): void {
            $client->write($text."\r\n");
            $client->read();
        });
    }

    public function end(): void
    {
        $this->server->close();
    }
}
