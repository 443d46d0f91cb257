<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Amp\CancelledException;
use Amp\Socket\ConnectContext;
use Amp\Socket\DnsSocketConnector;
use Amp\Socket\Socket;
use Amp\Socket\SocketException;
use Amp\TimeoutCancellation;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Socket\Datagrams;

/** The wire of a real site: everything leaves by the adapter that holds the outpost's address on the segment. */
final class SiteAccess implements NetworkAccess
{
    public function connect(Ipv4 $from, Ipv4 $to, int $port, float $seconds): Socket
    {
        try {
            // Without the library's own retries: a refusal is an answer.
            return (new DnsSocketConnector())->connect(
                $to.':'.$port,
                (new ConnectContext())->withBindTo($from.':0')->withConnectTimeout($seconds),
                new TimeoutCancellation($seconds),
            );
        } catch (CancelledException) {
            throw NoAnswer::silence($seconds);
        } catch (SocketException $e) {
            throw str_contains(strtolower($e->getMessage()), 'refused') ? NoAnswer::refused() : NoAnswer::silence($seconds);
        }
    }

    public function datagrams(Ipv4 $from, int $port = 0): Datagrams
    {
        return new SiteDatagrams($from, $port);
    }

    public function group(Datagrams $from, Ipv4 $group, int $port, string $packet): void
    {
        $from->send($group, $port, $packet);
    }

    public function seenAs(Ipv4 $site): Ipv4
    {
        return $site;
    }
}
