<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Socket\ClientTlsContext;
use Amp\Socket\Socket;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Text\Message;
use Vorhut\Socket\Datagrams;

/** An outpost that stands nowhere: nothing leaves it, and it says so. */
final class NoAccess implements NetworkAccess
{
    public function isOnSite(): bool
    {
        return false;
    }

    public function adapter(Network $network, Ipv4 $planned): Adapter
    {
        throw self::nowhere();
    }

    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds, ?ClientTlsContext $tls = null): Socket
    {
        throw self::nowhere();
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        throw self::nowhere();
    }

    public function listen(VantagePoint $place, Ipv4 $group, int $port): Datagrams
    {
        throw self::nowhere();
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        throw self::nowhere();
    }

    public function mayFollow(VantagePoint $place, Ipv4 $seen): bool
    {
        return false;
    }

    public function holderOf(Ipv4 $address): ?Mac
    {
        return null;
    }

    public function http(Ipv4 $from): array
    {
        throw self::nowhere();
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

    private static function nowhere(): NoAnswer
    {
        return NoAnswer::notAsked(new Message('the lab is not running for this job, and this outpost is not on site'));
    }
}
