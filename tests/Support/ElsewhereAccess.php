<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Amp\Socket\ClientTlsContext;
use Amp\Socket\Socket;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Network;
use Vorhut\Outpost\Probe\Adapter;
use Vorhut\Outpost\Probe\NetworkAccess;
use Vorhut\Outpost\Probe\SiteAccess;
use Vorhut\Outpost\Probe\VantagePoint;
use Vorhut\Socket\Datagrams;

/** The site's wire, with one port for every service: a test has no right to those below 1024. */
final readonly class ElsewhereAccess implements NetworkAccess
{
    private SiteAccess $site;

    public function __construct(private int $port, private ?Mac $holder = null)
    {
        $this->site = new SiteAccess();
    }

    public function isOnSite(): bool
    {
        return true;
    }

    public function adapter(Network $network, Ipv4 $planned): Adapter
    {
        return $this->site->adapter($network, $planned);
    }

    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds, ?ClientTlsContext $tls = null): Socket
    {
        return $this->site->connect($from, $to, $this->port, $seconds, $tls);
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        return $this->site->datagrams($from, $port);
    }

    public function listen(VantagePoint $place, Ipv4 $group, int $port): Datagrams
    {
        return $this->site->listen($place, $group, $port);
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        $this->site->group($from, $group, $port, $packet);
    }

    public function mayFollow(VantagePoint $place, Ipv4 $seen): bool
    {
        return $place->mayAsk($seen);
    }

    public function holderOf(Ipv4 $address): ?Mac
    {
        return $this->holder;
    }

    public function http(Ipv4 $from): array
    {
        return ['extra' => ['curl' => [\CURLOPT_CONNECT_TO => ['::127.0.0.1:'.$this->port]]]];
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
}
