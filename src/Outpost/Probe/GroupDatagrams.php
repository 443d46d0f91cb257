<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\Inbox;

/** Multicast to a group, received on one adapter (RFC 1112 §7.1): joined while this is open. It sends nothing. */
final class GroupDatagrams implements Datagrams
{
    private readonly Inbox $inbox;
    private readonly string $watch;

    private function __construct(private readonly \Socket $socket, private readonly Ipv4 $address, private readonly int $port)
    {
        $this->inbox = new Inbox();
        $stream = socket_export_stream($socket);
        if (false === $stream) {
            throw NoAnswer::notAsked(new Message('this machine does not permit joining a multicast group'));
        }
        $this->watch = EventLoop::onReadable($stream, function () use ($socket): void {
            while (false !== @socket_recvfrom($socket, $bytes, 65_536, \MSG_DONTWAIT, $from, $port)) {
                $sender = Ipv4::tryFromString(\is_string($from) ? $from : '');
                if (null !== $sender && \is_int($port) && \is_string($bytes)) {
                    $this->inbox->put([$sender, $port, $bytes]);
                }
            }
        });
    }

    /** @throws NoAnswer */
    public static function on(Adapter $adapter, Ipv4 $group, int $port): self
    {
        $socket = @socket_create(\AF_INET, \SOCK_DGRAM, \SOL_UDP);
        if (
            false === $socket
            || !socket_set_nonblock($socket)
            || !@socket_set_option($socket, \SOL_SOCKET, \SO_REUSEADDR, 1)
            // Bound to the group, so that nothing else that comes to the port is taken for it.
            || !@socket_bind($socket, (string) $group, $port)
            || !@socket_set_option($socket, \IPPROTO_IP, \MCAST_JOIN_GROUP, ['group' => (string) $group, 'interface' => $adapter->name])
        ) {
            throw NoAnswer::notAsked(new Message('no group can be heard on {adapter}: {reason}', [
                'adapter' => $adapter->name,
                'reason' => socket_strerror(socket_last_error()),
            ]));
        }

        return new self($socket, $adapter->address, $port);
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
    }

    public function receive(?float $seconds = null): ?array
    {
        return $this->inbox->take($seconds);
    }

    public function port(): int
    {
        return $this->port;
    }

    public function address(): Ipv4
    {
        return $this->address;
    }

    public function at(Ipv4 $site): Ipv4
    {
        return $site;
    }

    public function close(): void
    {
        EventLoop::cancel($this->watch);
        $this->inbox->close();
        socket_close($this->socket);
    }
}
