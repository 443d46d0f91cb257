<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Amp\CancelledException;
use Amp\Socket\InternetAddress;
use Amp\Socket\ResourceUdpSocket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;

use function Amp\Socket\bindUdpSocket;

/** A UDP socket in the lab: bound to the loopback twin of its site address. */
final class LoopbackDatagrams implements Datagrams
{
    private ResourceUdpSocket $socket;
    private bool $closed = false;
    /** @var array<string, true> ports bound in this process: PHP lets two sockets share a UDP port, and only one of them would receive */
    private static array $bound = [];

    /**
     * @param int $port 0 for any
     *
     * @throws SocketException where it is taken, or cannot be had
     */
    public function __construct(
        private readonly Ipv4 $site,
        int $port,
        private readonly Loopback $loopback = new Loopback(),
    ) {
        $wanted = $loopback->of($site).':'.(0 === $port ? 0 : Loopback::port($port));
        if (isset(self::$bound[$wanted])) {
            throw new SocketException("$wanted is taken.");
        }
        $this->socket = bindUdpSocket($wanted);
        self::$bound[$this->socket->getAddress()->toString()] = true;
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        if ($this->closed) {
            return;
        }
        $host = $this->at($to);
        try {
            $this->socket->send(new InternetAddress((string) $host, max(0, min(65535, Loopback::port($port)))), $bytes);
        } catch (\Throwable) {
            // A datagram that cannot be sent is a datagram that is lost.
        }
    }

    public function receive(?float $seconds = null): ?array
    {
        try {
            $received = $this->socket->receive(null === $seconds ? null : new TimeoutCancellation($seconds));
        } catch (CancelledException) {
            return null;
        }
        if (null === $received) {
            return null;
        }
        [$from, $bytes] = $received;

        return [Ipv4::fromString($from->getAddress()), Loopback::sitePort($from->getPort()), $bytes];
    }

    public function port(): int
    {
        return Loopback::sitePort($this->socket->getAddress()->getPort());
    }

    public function address(): Ipv4
    {
        return $this->at($this->site);
    }

    public function at(Ipv4 $site): Ipv4
    {
        // An address that is a loopback address already is a guest of the lab (a softphone on this machine).
        return $site->isLoopback() ? $site : $this->loopback->of($site);
    }

    public function close(): void
    {
        if (!$this->closed) {
            $this->closed = true;
            unset(self::$bound[$this->socket->getAddress()->toString()]);
        }
        $this->socket->close();
    }
}
