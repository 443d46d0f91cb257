<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Amp\Socket\Socket;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Datagrams;

/** What an outpost sends through, from a place on a segment. */
interface NetworkAccess
{
    /**
     * @throws NoAnswer when nothing came back, or the port was refused
     */
    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds): Socket;

    /** @param int $port 0 for any */
    public function datagrams(Ipv4 $from, int $port = 0): Datagrams;

    /** A question to a group of the segment, sent from the given socket. */
    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void;

    /** How an address of the site looks from here: in the lab everything is on loopback. */
    public function seenAs(Ipv4 $site): Ipv4;
}
