<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Socket\ClientTlsContext;
use Amp\Socket\ResourceSocket;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Revolt\EventLoop;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Datagrams;

/**
 * The network of a real site: every packet leaves through the adapter with the outpost's address in the segment, or not at all. A failure
 * is read from the kernel's error number, since each has another cause.
 */
final class SiteAccess implements NetworkAccess
{
    /** @param string $neighbours the kernel's neighbour table, as proc(5) prints it */
    public function __construct(private readonly string $neighbours = '/proc/net/arp')
    {
    }

    public function isOnSite(): bool
    {
        return true;
    }

    public function adapter(Network $network, Ipv4 $planned): Adapter
    {
        $there = [];
        foreach (self::adapters() as $adapter) {
            if ($adapter->address->equals($planned)) {
                return $adapter;
            }
            if ($network->contains($adapter->address)) {
                $there[] = $adapter;
            }
        }

        return $there[0] ?? throw NoAnswer::notAsked(new Message('no adapter of this machine is in {network}', [
            'network' => (string) $network,
        ]));
    }

    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds, ?ClientTlsContext $tls = null): Socket
    {
        // An address that is not ours would be bound with a warning only, and the probe would leave by another adapter.
        if (!self::holds($from)) {
            throw NoAnswer::notAsked(new Message('no adapter of this machine holds {address}', ['address' => (string) $from]));
        }
        $stream = @stream_socket_client(
            "tcp://$to:$port",
            $number,
            $reason,
            null,
            \STREAM_CLIENT_CONNECT | \STREAM_CLIENT_ASYNC_CONNECT,
            stream_context_create(['socket' => ['bindto' => $from.':0', 'tcp_nodelay' => true]]),
        );
        if (false === $stream) {
            throw NoAnswer::ofError($number ?? 0, $seconds, false);
        }
        stream_set_blocking($stream, false);
        $suspension = EventLoop::getSuspension();
        $writable = EventLoop::onWritable($stream, static fn () => $suspension->resume(true));
        $late = EventLoop::delay($seconds, static fn () => $suspension->resume(false));
        try {
            $came = $suspension->suspend();
        } finally {
            EventLoop::cancel($writable);
            EventLoop::cancel($late);
        }
        $socket = socket_import_stream($stream);
        $error = false === $socket ? 0 : socket_get_option($socket, \SOL_SOCKET, \SO_ERROR);
        if (true !== $came || 0 !== $error) {
            fclose($stream);
            throw true === $came ? NoAnswer::ofError(\is_int($error) ? $error : 0, $seconds, true) : NoAnswer::silence($seconds);
        }

        return ResourceSocket::fromClientSocket($stream, $tls);
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        try {
            return new SiteDatagrams($from, $port);
        } catch (SocketException $e) {
            throw NoAnswer::notAsked(new Message('no socket can be had on {address}: {reason}', [
                'address' => (string) $from,
                'reason' => $e->getMessage(),
            ]));
        }
    }

    public function listen(VantagePoint $place, Ipv4 $group, int $port): Datagrams
    {
        return GroupDatagrams::on($place->adapter, $group, $port);
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        $from->send($group, $port, $packet);
    }

    public function mayFollow(VantagePoint $place, Ipv4 $seen): bool
    {
        return $place->mayAsk($seen);
    }

    public function holderOf(Ipv4 $address): ?Mac
    {
        // Address, hardware type, flags, hardware address, mask, device. Flag 2 says that the entry is complete.
        foreach (@file($this->neighbours) ?: [] as $line) {
            $columns = preg_split('/\s+/', trim($line)) ?: [];
            if ((string) $address === $columns[0] && 0 !== (hexdec(substr($columns[2] ?? '0x0', 2)) & 2)) {
                return Mac::tryFromString($columns[3] ?? '');
            }
        }

        return null;
    }

    public function http(Ipv4 $from): array
    {
        return ['bindto' => (string) $from];
    }

    public function setUpBench(BenchSegment $bench): void
    {
    }

    public function starting(Ipv4 $from): array
    {
        return [];
    }

    public function seenAs(Ipv4 $site): Ipv4
    {
        return $site;
    }

    private static function holds(Ipv4 $address): bool
    {
        foreach (self::adapters() as $adapter) {
            if ($adapter->address->equals($address)) {
                return true;
            }
        }

        // All of 127.0.0.0/8 is this machine (RFC 1122 §3.2.1.3).
        return 127 === $address->number >> 24;
    }

    /** @return list<Adapter> of this machine, one for each IPv4 address that is up */
    public static function adapters(): array
    {
        $adapters = [];
        foreach (net_get_interfaces() ?: [] as $name => $about) {
            if (!\is_array($about) || true !== ($about['up'] ?? null)) {
                continue;
            }
            if (\is_array($about['unicast'] ?? null)) {
                foreach ($about['unicast'] as $one) {
                    $text = \is_array($one) && \is_string($one['address'] ?? null) ? $one['address'] : '';
                    $address = Ipv4::tryFromString($text);
                    if (null !== $address) {
                        $adapters[] = new Adapter((string) $name, $address);
                    }
                }
            }
        }

        return $adapters;
    }
}
