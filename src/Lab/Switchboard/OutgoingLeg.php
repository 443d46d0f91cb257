<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

/** The outgoing side of a joined call: invites, cancels while it rings, acknowledges, hangs up (RFC 3261 §13.2). */
final class OutgoingLeg
{
    private const CANCEL_SECONDS = 4.0;
    /** How long the other end may take to think about a change. */
    private const CHANGE_SECONDS = 6.0;

    public readonly string $callId;
    private readonly string $tag;
    private ?SipMessage $invite = null;
    private ?SipMessage $answer = null;
    private bool $isHeard = false;
    private bool $isTakenBack = false;
    private int $sequence = 1;
    private string $said = '';

    /**
     * @param string $uri    request URI
     * @param string $caller a name-addr: who calls
     * @param list<array{string, string}> $headers that go along
     */
    public function __construct(
        private readonly SipLine $line,
        private readonly Ipv4 $host,
        private readonly int $port,
        private readonly string $uri,
        private readonly string $caller,
        private readonly string $agent,
        private readonly array $headers = [],
    ) {
        $this->callId = bin2hex(random_bytes(10)).'@switchboard';
        $this->tag = bin2hex(random_bytes(5));
    }

    /**
     * @param string            $session an SDP body
     * @param float             $seconds how long it may ring
     * @param float             $first   how long nothing at all may come
     * @param \Closure(): void  $ringing
     *
     * @return int the final status; 408 without an answer, 487 if cancelled
     */
    public function call(string $session, float $seconds, float $first, \Closure $ringing): int
    {
        $this->said = $session;
        $this->invite = $invite = $this->request('INVITE', $this->uri, \sprintf('<%s>', $this->uri), [
            ['Contact', \sprintf('<sip:pbx@%s:%d>', $this->line->socket->address(), $this->line->socket->port())],
            ['User-Agent', $this->agent],
            ...$this->headers,
            ['Content-Type', 'application/sdp'],
        ], $session);
        $provisional = function (SipMessage $heard) use ($ringing): void {
            $this->isHeard = true;
            if (180 === $heard->status) {
                $ringing();
            }
        };
        $answer = $this->line->ask($invite, $this->host, $this->port, $first, $provisional);
        if (null === $answer && $this->isHeard) {
            $answer = $this->line->await($invite, max(0.1, $seconds - $first));
        }
        if (null === $answer) {
            $this->takeBack();
            // After ringing, the call may be picked up before the end of it arrives.
            $answer = $this->isHeard ? $this->line->await($invite, self::CANCEL_SECONDS) : null;
            if (null === $answer || $answer->status >= 300) {
                return 408;
            }
        }
        if ($answer->status < 300) {
            $this->answer = $answer;
            $this->line->confirm($invite, $this->within('ACK', $answer->sequence()), $this->host, $this->port);
            if ($this->isTakenBack) {
                // It was picked up in the same moment.
                $this->hangUp();

                return 487;
            }
        }

        return $answer->status;
    }

    public function far(): ?Session
    {
        try {
            return null === $this->answer ? null : Session::fromString($this->answer->body);
        } catch (ParseError) {
            return null;
        }
    }

    /** Sends a new offer within the call (RFC 3261 §14.1); its answer is valid from then on. */
    public function reinvite(string $session): ?SipMessage
    {
        if (null === $this->answer) {
            return null;
        }
        $this->said = $session;
        $invite = $this->within('INVITE', ++$this->sequence, [
            ['Contact', \sprintf('<sip:pbx@%s:%d>', $this->line->socket->address(), $this->line->socket->port())],
            ['Content-Type', 'application/sdp'],
        ], $session);
        $answer = $this->line->ask($invite, $this->host, $this->port, self::CHANGE_SECONDS);
        if (null !== $answer && $answer->status < 300) {
            $this->line->confirm($invite, $this->within('ACK', $answer->sequence()), $this->host, $this->port);
            $this->answer = $answer;
        }

        return $answer;
    }

    /** The last offer to it: an SDP body. */
    public function sessionSent(): string
    {
        return $this->said;
    }

    /** Is told what becomes of what it asked for (RFC 3515 §2.4.4); more is not said. */
    public function notify(string $fragment): void
    {
        $notify = $this->within('NOTIFY', ++$this->sequence, [
            ['Event', 'refer'],
            ['Subscription-State', 'terminated;reason=noresource'],
            ['Content-Type', 'message/sipfrag;version=2.0'],
        ], $fragment);
        Background::run('SIP NOTIFY', fn () => $this->line->ask($notify, $this->host, $this->port, self::CANCEL_SECONDS));
    }

    /** The body that answered the offer, as it came. */
    public function session(): string
    {
        return $this->answer->body ?? '';
    }

    /** Who says that he speaks there; the one that was asked for where he says nothing. */
    public function assertedIdentity(): string
    {
        return $this->answer?->header('P-Asserted-Identity') ?? \sprintf('<%s>', $this->uri);
    }

    public function takeBack(): void
    {
        if (null === $this->invite || null !== $this->answer || $this->isTakenBack) {
            return;
        }
        $this->isTakenBack = true;
        $cancel = SipMessage::cancel($this->invite);
        Background::run('SIP CANCEL', fn () => $this->line->ask($cancel, $this->host, $this->port, self::CANCEL_SECONDS));
    }

    /** Cancels while it rings, hangs up an active call. */
    public function end(): void
    {
        if (null === $this->answer) {
            $this->takeBack();
        } else {
            $this->hangUp();
        }
    }

    private function hangUp(): void
    {
        if (null !== $this->answer) {
            $bye = $this->within('BYE', ++$this->sequence);
            $this->answer = null;
            Background::run('SIP BYE', fn () => $this->line->ask($bye, $this->host, $this->port, self::CANCEL_SECONDS));
        }
    }

    /** The other end hung up: no message is needed. */
    public function isLeft(): void
    {
        $this->answer = null;
    }

    /** @param list<array{string, string}> $headers */
    private function within(string $method, int $sequence, array $headers = [], string $body = ''): SipMessage
    {
        $contact = $this->answer?->header('Contact');

        return $this->request(
            $method,
            null === $contact ? $this->uri : SipAddress::fromString($contact)->uri,
            (string) $this->answer?->header('To'),
            $headers,
            $body,
            $sequence,
        );
    }

    /** @param list<array{string, string}> $headers */
    private function request(string $method, string $uri, string $to, array $headers, string $body = '', ?int $sequence = null): SipMessage
    {
        return SipMessage::request($method, $uri, [
            ['Via', $this->line->via()],
            ['Max-Forwards', '70'],
            ['From', $this->caller.';tag='.$this->tag],
            ['To', $to],
            ['Call-ID', $this->callId],
            ['CSeq', ($sequence ?? $this->sequence).' '.$method],
            ...$headers,
        ], $body);
    }
}
