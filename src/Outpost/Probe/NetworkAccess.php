<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Amp\Socket\ClientTlsContext;
use Amp\Socket\Socket;
use Vorhut\Core\Bench\BenchSegment;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Net\Network;
use Vorhut\Socket\Datagrams;

/** What an outpost sends through, from a place on a segment. */
interface NetworkAccess
{
    /** Whether its results are from the site. */
    public function isOnSite(): bool;

    /**
     * Its connection to a network.
     *
     * @param Ipv4 $planned the address that the plan keeps free for an outpost there
     *
     * @throws NoAnswer if it has no connection there
     */
    public function adapter(Network $network, Ipv4 $planned): Adapter;

    /**
     * @param ClientTlsContext|null $tls where a TLS handshake is to follow
     *
     * @throws NoAnswer when nothing came back, the port was refused, or nothing could be sent
     */
    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds, ?ClientTlsContext $tls = null): Socket;

    /**
     * How an HTTP request leaves from a place: options of Symfony's HTTP client.
     *
     * @return array<string, mixed>
     *
     * @throws NoAnswer where nothing can be sent
     */
    public function http(Ipv4 $from): array;

    /**
     * @param int $port 0 for any
     *
     * @throws NoAnswer where the address and port cannot be had
     */
    public function datagrams(Ipv4 $from, int $port = 0): Datagrams;

    /**
     * Listens to a group in the segment of the place, for all senders.
     *
     * @throws NoAnswer where it cannot listen
     */
    public function listen(VantagePoint $place, Ipv4 $group, int $port): Datagrams;

    /** A question to a group of the segment, sent from the given socket. */
    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void;

    /**
     * Whether a packet may be sent to an address in an answer: devices send addresses that are not trustworthy.
     *
     * @param Ipv4 $seen as in the answer
     */
    public function mayFollow(VantagePoint $place, Ipv4 $seen): bool;

    /**
     * The MAC for an address in a segment of this machine, from its neighbour table after a packet was sent there (RFC 826); null if it
     * cannot be known.
     */
    public function holderOf(Ipv4 $address): ?Mac;

    /** Sets a laptop to reach devices at their factory addresses: in the lab automatically, on site by a person. */
    public function setUpBench(BenchSegment $bench): void;

    /**
     * Devices that are known to be starting, and about which a test could say nothing yet: in the lab.
     *
     * @return list<string> device keys
     */
    public function starting(Ipv4 $from): array;

    /** How an address of the site looks from here: in the lab everything is on loopback. */
    public function seenAs(Ipv4 $site): Ipv4;
}
