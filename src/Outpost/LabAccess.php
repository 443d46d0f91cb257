<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Amp\CancelledException;
use Amp\Socket\ConnectContext;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\Socket\Socks5SocketConnector;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\LoopbackDatagrams;

/** The lab: connections through its entrance, datagrams between loopback twins. Nothing leaves this machine. */
final readonly class LabAccess implements NetworkAccess
{
    public function __construct(private int $labPort)
    {
    }

    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds): Socket
    {
        try {
            return (new Socks5SocketConnector('127.0.0.1:'.$this->labPort))->connect(
                $to.':'.$port,
                (new ConnectContext())->withBindTo(Loopback::of($from).':0'),
                new TimeoutCancellation($seconds),
            );
        } catch (CancelledException) {
            throw NoAnswer::silence($seconds);
        } catch (SocketException $e) {
            // The entrance's own word for it (RFC 1928 §6, reply 5); an entrance that is shut is a lab that does not play.
            throw str_contains($e->getMessage(), 'SOCKS5 reply: Connection refused') ? NoAnswer::refused() : NoAnswer::silence($seconds);
        }
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        return new LoopbackDatagrams($from, $port);
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        $from->send(Ipv4::fromString('127.0.0.1'), $this->labPort, $packet);
    }

    public function seenAs(Ipv4 $site): Ipv4
    {
        return Loopback::of($site);
    }
}
