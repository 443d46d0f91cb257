<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\Address;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Core\Wire\Unreadable;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

/** The side of a joined call that was called: rings, is answered once, is told who speaks now, ends (RFC 3261 §13.3, RFC 7092). */
final class IncomingLeg
{
    private const BYE_SECONDS = 4.0;

    private bool $isAnswered = false;
    private bool $isOver = false;
    private int $sequence = 0;
    private readonly string $tag;
    /** @var list<\Closure(): void> */
    private array $ended = [];

    public function __construct(
        private readonly SipLine $line,
        public readonly SipMessage $invite,
        private readonly Ipv4 $from,
        private readonly int $port,
        private readonly string $agent,
    ) {
        $this->tag = bin2hex(random_bytes(5));
    }

    /** What the caller offers; null where it makes none that can be read. */
    public function offer(): ?Session
    {
        try {
            return '' === $this->invite->body ? null : Session::fromString($this->invite->body);
        } catch (Unreadable) {
            return null;
        }
    }

    public function isAnswered(): bool
    {
        return $this->isAnswered;
    }

    public function isOver(): bool
    {
        return $this->isOver;
    }

    public function ring(): void
    {
        $this->isAnswered || $this->isOver || $this->respond(180);
    }

    /**
     * @param string $session  where sound is taken: an SDP body
     * @param string $asserted who speaks (RFC 3325 §9.1); told anew where the call was answered before (RFC 3311)
     */
    public function answer(string $session, string $asserted): void
    {
        if ($this->isOver) {
            return;
        }
        $identity = ['P-Asserted-Identity', $asserted];
        if ($this->isAnswered) {
            $update = $this->within('UPDATE', [$identity]);
            Background::run('SIP UPDATE', fn () => $this->line->ask($update, $this->from, $this->port, self::BYE_SECONDS));

            return;
        }
        $this->isAnswered = true;
        $this->respond(200, [
            ['Contact', \sprintf('<sip:pbx@%s:%d>', $this->line->socket->address(), $this->line->socket->port())],
            ['User-Agent', $this->agent],
            ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS, UPDATE'],
            $identity,
            ['Content-Type', 'application/sdp'],
        ], $session);
    }

    /** Refused, or hung up where it stands. */
    public function refuse(int $status): void
    {
        if ($this->isOver) {
            return;
        }
        if ($this->isAnswered) {
            $bye = $this->within('BYE');
            Background::run('SIP BYE', fn () => $this->line->ask($bye, $this->from, $this->port, self::BYE_SECONDS));
        } else {
            $this->respond($status);
        }
        $this->over();
    }

    public function cancelled(SipMessage $cancel): void
    {
        $this->line->answer($cancel, SipMessage::response($cancel, 200), $this->from, $this->port);
        if (!$this->isAnswered && !$this->isOver) {
            $this->respond(487);
            $this->over();
        }
    }

    public function hungUp(SipMessage $bye): void
    {
        $this->line->answer($bye, SipMessage::response($bye, 200), $this->from, $this->port);
        $this->over();
    }

    /** @param \Closure(): void $then */
    public function whenOver(\Closure $then): void
    {
        $this->isOver ? $then() : $this->ended[] = $then;
    }

    private function over(): void
    {
        $this->isOver = true;
        $ended = $this->ended;
        $this->ended = [];
        foreach ($ended as $then) {
            $then();
        }
    }

    /** @param list<array{string, string}> $headers */
    private function respond(int $status, array $headers = [], string $body = ''): void
    {
        $this->line->answer(
            $this->invite,
            SipMessage::response($this->invite, $status, null, $headers, $body, $this->tag),
            $this->from,
            $this->port,
        );
    }

    /** @param list<array{string, string}> $headers */
    private function within(string $method, array $headers = []): SipMessage
    {
        $contact = $this->invite->header('Contact');
        ++$this->sequence;

        return SipMessage::request($method, null === $contact ? 'sip:'.$this->from : Address::fromString($contact)->uri, [
            ['Via', $this->line->via()],
            ['Max-Forwards', '70'],
            ['From', $this->invite->header('To').';tag='.$this->tag],
            ['To', (string) $this->invite->header('From')],
            ['Call-ID', $this->invite->callId()],
            ['CSeq', $this->sequence.' '.$method],
            ...$headers,
        ]);
    }
}
