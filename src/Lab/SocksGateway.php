<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Amp\ByteStream\StreamException;
use Amp\Cancellation;
use Amp\CancelledException;
use Amp\Socket\ConnectContext;
use Amp\Socket\DnsSocketConnector;
use Amp\Socket\InternetAddress;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Socket\Background;
use Vorhut\Socket\DescriptorLimit;
use Vorhut\Socket\Loopback;

use function Amp\ByteStream\pipe;
use function Amp\Socket\bindUdpSocket;
use function Amp\Socket\listen;

/**
 * Where an outpost plugs into the lab's wire: connections through SOCKS 5 (RFC 1928), because a real handshake on loopback would succeed
 * where the site's wire loses the packet; group questions as datagrams, handed to those who would hear them.
 */
final class SocksGateway
{
    /** A way through takes two of them. */
    private const KEPT_FREE = 40;

    private const SILENCE = 30.0;

    /** Seconds from a connection to the end of its question: one that says nothing holds a descriptor. */
    private const QUESTION = 5.0;

    /**
     * @param \Closure(): list<Simulation> $jobs
     *
     * @return \Closure(): void shuts it
     */
    public static function open(int $port, \Closure $jobs): \Closure
    {
        $server = listen('127.0.0.1:'.$port);
        Background::run('lab entrance', static function () use ($server, $jobs): void {
            while (null !== $client = $server->accept()) {
                if (!DescriptorLimit::isLeft(self::KEPT_FREE)) {
                    $client->close();
                    continue;
                }
                Background::run('lab entrance', static function () use ($client, $jobs): void {
                    try {
                        self::serve($client, $jobs());
                    } catch (StreamException|SocketException|CancelledException) {
                        // The asker went away, or never asked.
                    } finally {
                        $client->close();
                    }
                });
            }
        });
        $group = bindUdpSocket('127.0.0.1:'.$port);
        Background::run('lab groups', static function () use ($group, $jobs): void {
            while (null !== $received = $group->receive()) {
                [$from, $packet] = $received;
                foreach ($jobs() as $job) {
                    if ($job->group($packet, Ipv4::fromString($from->getAddress()), Loopback::sitePort($from->getPort()))) {
                        break;
                    }
                }
            }
        });

        return static function () use ($server, $group): void {
            $server->close();
            $group->close();
        };
    }

    /** @param list<Simulation> $jobs */
    private static function serve(Socket $client, array $jobs): void
    {
        $until = new TimeoutCancellation(self::QUESTION);
        $hello = self::read($client, 2, $until);
        self::read($client, \ord($hello[1]), $until);
        $client->write("\x05\x00");
        $request = self::read($client, 4, $until);
        if ("\x05\x01\x00\x03" === $request) {
            self::serveName($client, $jobs, $until);

            return;
        }
        // Otherwise only CONNECT to an IPv4 address: an outpost speaks in addresses.
        if ("\x05\x01\x00\x01" !== $request) {
            $client->write("\x05\x07\x00\x01\0\0\0\0\0\0");

            return;
        }
        /** @var array{address: int, port: int} $destination */
        $destination = unpack('Naddress/nport', self::read($client, 6, $until));
        $target = Ipv4::fromNumber($destination['address']);
        $peer = $client->getRemoteAddress();
        $from = $peer instanceof InternetAddress ? Ipv4::fromString($peer->getAddress()) : null;
        if (null === $from) {
            return;
        }
        foreach ($jobs as $job) {
            $network = $job->network();
            $site = $network->siteOf($from);
            $asker = null === $site ? null : $network->nameOf($site);
            if (null === $asker) {
                continue;
            }
            $holder = $network->nameOf($target);
            if ($holder === $asker && Loopback::PRESENCE === $destination['port']) {
                $client->write("\x05\x00\x00\x01\0\0\0\0\0\0");

                return;
            }
            if (null === $holder || !$job->isUp($holder) || !$network->connects($asker, $holder, $destination['port'])) {
                // Lost in the network: no reply is sent, and the sender waits for its time-out.
                self::stayThere($client);

                return;
            }
            try {
                // Without the library's own retries: a refusal is an answer.
                $service = (new DnsSocketConnector())->connect(
                    $network->loopback->of($target).':'.Loopback::port($destination['port']),
                    (new ConnectContext())->withConnectTimeout(2),
                );
            } catch (SocketException) {
                $client->write("\x05\x05\x00\x01\0\0\0\0\0\0");

                return;
            }
            $client->write("\x05\x00\x00\x01\0\0\0\0\0\0");
            Background::run('lab entrance', static function () use ($client, $service): void {
                try {
                    pipe($client, $service);
                    $service->end();
                } catch (StreamException) {
                    // One of the two went away.
                }
            });
            pipe($service, $client);
            $client->end();
            $service->close();

            return;
        }
        // The lab does not run the sender's place: there is no network to send into.
        $client->write("\x05\x03\x00\x01\0\0\0\0\0\0");
    }

    /**
     * A request to the lab itself, by a name: list the devices that are still starting, as JSON; or set up a bench.
     *
     * @param list<Simulation> $jobs
     */
    private static function serveName(Socket $client, array $jobs, Cancellation $until): void
    {
        $name = self::read($client, \ord(self::read($client, 1, $until)), $until);
        self::read($client, 2, $until);
        $peer = $client->getRemoteAddress();
        $from = $peer instanceof InternetAddress ? Ipv4::fromString($peer->getAddress()) : null;
        $bench = Loopback::STATE === $name ? null : self::bench($name);
        if (null === $from) {
            return;
        }
        foreach ($jobs as $job) {
            if (null !== $bench && $job->network()->loopback->of($bench->laptop)->equals($from)) {
                $job->setUpBench($bench);
                $client->write("\x05\x00\x00\x01\0\0\0\0\0\0");

                return;
            }
            if (Loopback::STATE === $name && null !== $job->network()->siteOf($from)) {
                $client->write("\x05\x00\x00\x01\0\0\0\0\0\0".json_encode($job->starting()));

                return;
            }
        }
        $client->write("\x05\x04\x00\x01\0\0\0\0\0\0");
    }

    /** The bench that a name as `bench-192-168-1-50-24` means. */
    private static function bench(string $name): ?BenchSegment
    {
        if (1 !== preg_match('/^'.Loopback::BENCH.'-(\d+)-(\d+)-(\d+)-(\d+)-(\d+)$/D', $name, $parts)) {
            return null;
        }
        $laptop = Ipv4::tryFromString("$parts[1].$parts[2].$parts[3].$parts[4]");
        $mask = Mask::tryFromString('/'.$parts[5]);

        return null === $laptop || null === $mask ? null : new BenchSegment($laptop, Network::around($laptop, $mask));
    }

    /** Stays silent while the client waits: a client that left must not hold a descriptor, because a scan opens hundreds. */
    private static function stayThere(Socket $client): void
    {
        try {
            $until = new TimeoutCancellation(self::SILENCE);
            do {
                $more = $client->read($until);
            } while (null !== $more);
        } catch (CancelledException) {
            return;
        }
    }

    private static function read(Socket $client, int $bytes, Cancellation $until): string
    {
        // The asker waits for each answer before it goes on, so nothing is read beyond the end.
        $have = '';
        while (\strlen($have) < $bytes) {
            $have .= $client->read($until, max(1, $bytes - \strlen($have))) ?? throw new StreamException('The asker went away.');
        }

        return $have;
    }
}
