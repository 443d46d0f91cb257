<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\ByteStream\StreamException;
use Amp\CancelledException;
use Amp\Socket\ClientTlsContext;
use Amp\Socket\ConnectContext;
use Amp\Socket\DnsSocketConnector;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\Socket\Socks5SocketConnector;
use Amp\TimeoutCancellation;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\Loopback;
use Vorhut\Socket\LoopbackDatagrams;

use function Amp\ByteStream\buffer;
use function Amp\delay;

/** The lab: connections through its entrance, datagrams between loopback twins. Nothing leaves this machine. */
final readonly class LabAccess implements NetworkAccess
{
    /** Seconds that a listener waits for the ones before it. */
    private const TURN = 60.0;

    /** The lab answers at once, but one with thousands of devices on a busy machine takes its time. */
    private const PRESENCE_SECONDS = 20.0;

    public function __construct(private int $labPort, private Loopback $loopback = new Loopback())
    {
    }

    public function isOnSite(): bool
    {
        return false;
    }

    public function adapter(Network $network, Ipv4 $planned): Adapter
    {
        try {
            // The lab itself answers for a place, and only while it runs the place's job.
            $this->connect($planned, $planned, Loopback::PRESENCE, self::PRESENCE_SECONDS)->close();
        } catch (NoAnswer $e) {
            throw Outcome::NotAsked === $e->outcome ? $e : NoAnswer::notAsked(new Message('the lab does not answer'));
        }

        return new Adapter('lab', $planned);
    }

    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds, ?ClientTlsContext $tls = null): Socket
    {
        $context = (new ConnectContext())->withBindTo($this->loopback->of($from).':0');
        try {
            return (new Socks5SocketConnector('127.0.0.1:'.$this->labPort, socketConnector: new DnsSocketConnector()))->connect(
                $to.':'.$port,
                null === $tls ? $context : $context->withTlsContext($tls),
                new TimeoutCancellation($seconds),
            );
        } catch (CancelledException) {
            throw NoAnswer::silence($seconds);
        } catch (SocketException $e) {
            // The entrance's own words for it (RFC 1928 §6, replies 5, 4 and 3); an entrance that is shut is a lab that is not open.
            throw match (true) {
                str_contains($e->getMessage(), 'SOCKS5 reply: Connection refused') => NoAnswer::refusal(),
                str_contains($e->getMessage(), 'SOCKS5 reply: Host unreachable') => NoAnswer::unreachable(),
                str_contains($e->getMessage(), 'SOCKS5 reply: Network unreachable') => NoAnswer::notAsked(
                    new Message('the lab does not play this place'),
                ),
                str_contains($e->getMessage(), 'SOCKS5') => NoAnswer::silence($seconds),
                default => NoAnswer::notAsked(new Message('the lab is not open')),
            };
        }
    }

    public function http(Ipv4 $from): array
    {
        return ['proxy' => 'socks5://127.0.0.1:'.$this->labPort, 'bindto' => (string) $this->loopback->of($from)];
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        try {
            return new LoopbackDatagrams($from, $port, $this->loopback);
        } catch (SocketException $e) {
            throw NoAnswer::notAsked(new Message('no socket can be had there: {reason}', ['reason' => $e->getMessage()]));
        }
    }

    public function listen(VantagePoint $place, Ipv4 $group, int $port): Datagrams
    {
        // The lab delivers multicast by unicast to every listener. An address has each port only once, so a second listener waits for its
        // turn.
        for ($until = microtime(true) + self::TURN; true;) {
            try {
                return $this->datagrams($place->address, $port);
            } catch (NoAnswer $e) {
                if (microtime(true) < $until) {
                    delay(0.1);
                } else {
                    throw $e;
                }
            }
        }
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        $from->send(Ipv4::fromString('127.0.0.1'), $this->labPort, $packet);
    }

    public function mayFollow(VantagePoint $place, Ipv4 $seen): bool
    {
        return $seen->isLoopback();
    }

    public function holderOf(Ipv4 $address): ?Mac
    {
        return null;
    }

    public function setUpBench(BenchSegment $bench): void
    {
        $this->tell(
            \sprintf('%s-%s-%d', Loopback::BENCH, str_replace('.', '-', (string) $bench->laptop), $bench->network->mask->prefix),
            $bench->laptop,
        );
    }

    public function starting(Ipv4 $from): array
    {
        $devices = json_decode($this->tell(Loopback::STATE, $from), true);

        return array_values(array_filter(\is_array($devices) ? $devices : [], is_string(...)));
    }

    /** Sends a request to the lab itself and returns its answer, or an empty text if it is not open. */
    private function tell(string $name, Ipv4 $from): string
    {
        try {
            $socket = (new Socks5SocketConnector('127.0.0.1:'.$this->labPort, socketConnector: new DnsSocketConnector()))->connect(
                $name.':'.Loopback::PRESENCE,
                (new ConnectContext())->withBindTo($this->loopback->of($from).':0'),
                new TimeoutCancellation(self::PRESENCE_SECONDS),
            );

            return buffer($socket, new TimeoutCancellation(self::PRESENCE_SECONDS));
        } catch (SocketException|StreamException|CancelledException) {
            return '';
        }
    }

    public function seenAs(Ipv4 $site): Ipv4
    {
        return $this->loopback->of($site);
    }
}
