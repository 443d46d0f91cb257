<?php

declare(strict_types=1);

namespace Vorhut\Socket;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;

/** What the called side says of its own within a call: by the way that the call came, and numbered by itself (RFC 3261 §12.2.1.1). */
final class Dialog
{
    private int $sequence = 0;
    /** Where the caller says that he is, as he is addressed; it goes where he was heard from, whatever he says. */
    private readonly string $target;

    public function __construct(
        private readonly SipLine $line,
        private readonly SipMessage $invite,
        private readonly string $tag,
        private readonly Ipv4 $host,
        private readonly int $port,
    ) {
        try {
            $contact = $invite->header('Contact');
            $target = null === $contact ? null : SipAddress::fromString($contact)->uri;
        } catch (ParseError) {
            $target = null;
        }
        $this->target = $target ?? 'sip:'.$host;
    }

    /**
     * Sends a request, and acknowledges the answers to an INVITE.
     *
     * @param list<array{string, string}> $headers
     *
     * @return SipMessage|null the final answer; null after a time-out
     */
    public function ask(string $method, float $seconds, array $headers = [], string $body = ''): ?SipMessage
    {
        $request = $this->request($method, ++$this->sequence, $headers, $body);
        $answer = $this->line->ask($request, $this->host, $this->port, $seconds);
        if ('INVITE' === $method && null !== $answer && $answer->status < 300) {
            $this->line->confirm($request, $this->request('ACK', $this->sequence), $this->host, $this->port);
        }

        return $answer;
    }

    /** @param list<array{string, string}> $headers */
    private function request(string $method, int $sequence, array $headers = [], string $body = ''): SipMessage
    {
        return SipMessage::request($method, $this->target, [
            ['Via', $this->line->via()],
            ['Max-Forwards', '70'],
            ...array_map(static fn (string $route): array => ['Route', $route], $this->invite->headers('Record-Route')),
            ['From', $this->invite->header('To').';tag='.$this->tag],
            ['To', (string) $this->invite->header('From')],
            ['Call-ID', $this->invite->callId()],
            ['CSeq', $sequence.' '.$method],
            ...$headers,
        ], $body);
    }
}
