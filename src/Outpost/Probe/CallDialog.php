<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;

/** The dialog of an answered INVITE: later requests use the route recorded in the answer (RFC 3261 §12.1.2). */
final readonly class CallDialog
{
    public SipAddress $remote;
    /** @var list<array{string, string}> */
    private array $routes;

    /** @param string $from our own end, as the INVITE named it, with its tag */
    public function __construct(private SipMessage $answer, private string $from)
    {
        $this->remote = SipAddress::fromString((string) $answer->header('Contact'));
        $this->routes = array_map(
            static fn (string $route): array => ['Route', $route],
            array_reverse($answer->headers('Record-Route')),
        );
    }

    /** @param string $via of the line that it is sent by */
    public function request(string $method, string $via, int $later = 0): SipMessage
    {
        return SipMessage::request($method, $this->remote->uri, [
            ['Via', $via],
            ['Max-Forwards', '70'],
            ...$this->routes,
            ['From', $this->from],
            ['To', (string) $this->answer->header('To')],
            ['Call-ID', $this->answer->callId()],
            ['CSeq', ($this->answer->sequence() + $later).' '.$method],
        ]);
    }

    /**
     * With a route the proxy forwards requests; without one they are sent directly to the far end.
     *
     * @return array{Ipv4, int}
     */
    public function nextHop(Ipv4 $proxy, int $port): array
    {
        return [] === $this->routes ? [Ipv4::tryFromString($this->remote->host()) ?? $proxy, $this->remote->port()] : [$proxy, $port];
    }
}
