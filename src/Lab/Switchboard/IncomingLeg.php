<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\CallClock;
use Vorhut\Socket\Background;
use Vorhut\Socket\Dialog;
use Vorhut\Socket\SipLine;

/** The side of a joined call that was called: rings, is answered once, is told who speaks now, ends (RFC 3261 §13.3, RFC 7092). */
final class IncomingLeg
{
    private const BYE_SECONDS = 4.0;
    /** How long the other end may take to think about a change. */
    private const CHANGE_SECONDS = 6.0;

    private bool $isAnswered = false;
    private bool $isOver = false;
    private readonly string $tag;
    private readonly Dialog $dialog;
    private ?CallClock $clock = null;
    private ?Session $offer = null;
    private string $said = '';
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
        $this->dialog = new Dialog($line, $invite, $this->tag, $from, $port);
        try {
            $this->offer = '' === $invite->body ? null : Session::fromString($invite->body);
        } catch (ParseError) {
            $this->offer = null;
        }
    }

    /** What the caller offers, by his last word; null where it makes none that can be read. */
    public function offer(): ?Session
    {
        return $this->offer;
    }

    /** What it was answered, by the last word: an SDP body. */
    public function sessionSent(): string
    {
        return $this->said;
    }

    /** Offers something else within the call (RFC 3261 §14.1). */
    public function reinvite(string $session): ?SipMessage
    {
        return $this->dialog->ask('INVITE', self::CHANGE_SECONDS, [$this->contact(), ['Content-Type', 'application/sdp']], $session);
    }

    /** What the caller offers and is answered within the call counts from then on. */
    public function agree(SipMessage $request, string $session): void
    {
        $this->said = $session;
        try {
            $this->offer = Session::fromString($request->body);
        } catch (ParseError) {
            // A fax has no sound to be aimed at.
        }
    }

    /**
     * A refresh by the caller: the call continues (RFC 4028 §7.4).
     *
     * @return list<array{string, string}> the headers of the answer for the session timer
     */
    public function heardFrom(): array
    {
        $this->clock?->refresh();

        return $this->clock?->headers() ?? [];
    }

    /** @return array{string, string} */
    private function contact(): array
    {
        return ['Contact', \sprintf('<sip:pbx@%s:%d>', $this->line->socket->address(), $this->line->socket->port())];
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
        if (!$this->isAnswered && !$this->isOver) {
            $this->respond(180);
        }
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
            Background::run('SIP UPDATE', fn () => $this->dialog->ask('UPDATE', self::BYE_SECONDS, [$identity]));

            return;
        }
        $this->isAnswered = true;
        $this->said = $session;
        $this->clock = CallClock::of($this->invite, $this->dialog, fn () => $this->refuse(408));
        $this->respond(200, [
            $this->contact(),
            ['User-Agent', $this->agent],
            ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS, UPDATE'],
            ...($this->clock?->headers() ?? []),
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
            Background::run('SIP BYE', fn () => $this->dialog->ask('BYE', self::BYE_SECONDS));
        } else {
            $this->respond($status);
        }
        $this->over();
    }

    public function onCancel(SipMessage $cancel): void
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
        if ($this->isOver) {
            $then();
        } else {
            $this->ended[] = $then;
        }
    }

    private function over(): void
    {
        $this->isOver = true;
        $this->clock?->end();
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
}
