<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\ByteStream\StreamException;
use Amp\Socket\Certificate;
use Amp\Socket\InternetAddress;
use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\Registration;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\SipStream;
use Vorhut\Socket\Background;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\Inbox;
use Vorhut\Socket\Loopback;

/**
 * Where a stand-in accepts SIP over UDP and TCP (RFC 3261 §18): a request over a connection is answered on it, and later requests use it
 * while it is open. Messages on a connection are not retransmitted.
 */
final class SipDoor implements Datagrams
{
    private const CONNECTIONS = 200;
    /** Of each connection, the last messages that were said on it. */
    private const SAID = 60;

    private readonly Inbox $inbox;
    /** @var list<TcpServer> */
    private readonly array $servers;
    /** @var array<string, array{Socket, list<string>, int}> address and port → connection, lines received on it, the port of TLS or 0 */
    private array $connections = [];

    /** @param Certificate|null $certificate where it takes SIP over TLS as well, on the port of that (RFC 3261 §26.3.1) */
    public function __construct(
        private readonly GatedDatagrams $datagrams,
        int $port,
        ?Certificate $certificate = null,
        int $securePort = Registration::SIPS_PORT,
    ) {
        $this->inbox = new Inbox();
        Background::run('SIP', function (): void {
            while (null !== $received = $this->datagrams->receive()) {
                $this->inbox->put($received);
            }
            $this->inbox->close();
        });
        $this->servers = [
            new TcpServer($this->address(), $port, fn (Socket $client) => $this->serve($client, 0)),
            ...(null === $certificate ? [] : [
                TcpServer::overTls($this->address(), $securePort, $certificate, fn (Socket $client) => $this->serve($client, $securePort)),
            ]),
        ];
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        $key = $to.':'.$port;
        if (!isset($this->connections[$key])) {
            $this->datagrams->send($to, $port, $bytes);

            return;
        }
        [$socket, $said, $secure] = $this->connections[$key];
        $bytes = $this->overTcp($bytes, $secure);
        $mark = hash('xxh64', $bytes);
        if (\in_array($mark, $said, true)) {
            return;
        }
        $this->connections[$key][1] = [...\array_slice($said, 1 - self::SAID), $mark];
        try {
            $socket->write($bytes);
        } catch (StreamException) {
            unset($this->connections[$key]);
        }
    }

    public function receive(?float $seconds = null): ?array
    {
        return $this->inbox->take($seconds);
    }

    public function port(): int
    {
        return $this->datagrams->port();
    }

    public function address(): Ipv4
    {
        return $this->datagrams->address();
    }

    public function at(Ipv4 $site): Ipv4
    {
        return $this->datagrams->at($site);
    }

    public function close(): void
    {
        foreach ($this->servers as $server) {
            $server->end();
        }
        foreach ($this->connections as [$socket]) {
            $socket->close();
        }
        $this->connections = [];
        $this->datagrams->close();
    }

    private function serve(Socket $client, int $secure): void
    {
        $peer = $client->getRemoteAddress();
        if (!$peer instanceof InternetAddress) {
            return;
        }
        $from = Ipv4::tryFromString($peer->getAddress());
        if (null === $from || \count($this->connections) >= self::CONNECTIONS) {
            return;
        }
        $port = Loopback::sitePort($peer->getPort());
        $key = $from.':'.$port;
        $this->connections[$key] = [$client, [], $secure];
        $stream = new SipStream();
        try {
            while (null !== $bytes = $client->read()) {
                foreach ($stream->feed($bytes) as $message) {
                    $this->inbox->put([$from, $port, $message]);
                }
            }
        } catch (ParseError) {
            // Where a message ends cannot be told any more: the connection is of no use to anybody.
            return;
        } finally {
            unset($this->connections[$key]);
        }
    }

    /** What this end says of itself: that it is spoken to by TCP here, or by TLS on the port of that. */
    private function overTcp(string $bytes, int $secure): string
    {
        $here = $this->address().':'.$this->port();
        $there = 0 === $secure ? $here : $this->address().':'.Loopback::port($secure);
        [$via, $transport] = 0 === $secure ? ['TCP', 'tcp'] : ['TLS', 'tls'];
        $end = strpos($bytes, "\r\n\r\n");
        $head = false === $end ? $bytes : substr($bytes, 0, $end);
        $said = str_replace(
            ["SIP/2.0/UDP $here;", "<sip:$here;lr>"],
            ["SIP/2.0/$via $there;", "<sip:$there;transport=$transport;lr>"],
            (string) preg_replace('~^(Contact: <sip:[^@>;]+@)'.preg_quote($here, '~').'>~m', "\${1}$there;transport=$transport>", $head),
        );

        return $said.(false === $end ? '' : substr($bytes, $end));
    }
}
