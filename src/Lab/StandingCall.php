<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\AudioLine;
use Vorhut\Socket\Dialog;
use Vorhut\Socket\SipLine;

/** One call at a called stand-in, from ringing to its end: its audio, changes within it, its time. */
final class StandingCall
{
    public readonly Dialog $dialog;
    private ?AudioLine $audio = null;
    private ?CallClock $clock = null;
    private ?Session $said = null;

    /** @param Session|null $offer null if the caller leaves the offer to the called party (RFC 3261 §13.2.1) */
    public function __construct(
        SipLine $line,
        public readonly SipMessage $invite,
        public readonly string $tag,
        private ?Session $offer,
        Ipv4 $from,
        int $port,
    ) {
        $this->dialog = new Dialog($line, $invite, $tag, $from, $port);
    }

    public function isAnswered(): bool
    {
        return null !== $this->audio;
    }

    /** The number of who calls, as it is said. */
    public function caller(): string
    {
        try {
            return SipAddress::fromString($this->invite->header('P-Asserted-Identity') ?? $this->invite->header('From') ?? '')->user();
        } catch (ParseError) {
            return '';
        }
    }

    /** @return array{sent: int, heard: int} packets of sound */
    public function packetCounts(): array
    {
        return ['sent' => $this->audio?->sentCount() ?? 0, 'heard' => $this->audio?->heard->receivedCount() ?? 0];
    }

    /**
     * @param \Closure(): void $over called after a time-out
     *
     * @return array{Session, list<array{string, string}>} the answer, and its headers for the session timer
     */
    public function answer(AudioLine $audio, Ipv4 $address, \Closure $over): array
    {
        $this->audio = $audio;
        $this->clock = CallClock::of($this->invite, $this->dialog, $over);
        $this->said = new Session($address, $audio->port(), [Session::PCMU], 1, $this->offer?->keys);

        return [$this->said, $this->clock?->headers() ?? []];
    }

    /** The sound begins, once: a 200 that came twice is acknowledged twice. */
    public function onAck(SipMessage $ack): bool
    {
        if (null === $this->offer && '' !== $ack->body) {
            try {
                $this->offer = Session::fromString($ack->body);
            } catch (ParseError) {
                return false;
            }
        }
        if (null === $this->audio || null === $this->offer || $this->audio->isStarted() || $this->offer->isOnHold()) {
            return false;
        }
        $this->audio->start($this->offer->address, $this->offer->port);

        return true;
    }

    /** An offer within the call (RFC 3264 §8): on hold and back, audio to another address, or no change at all. */
    public function onReinvite(SipMessage $request): SipMessage
    {
        $tooShort = SessionTimer::negotiate($request);
        if ($tooShort instanceof SipMessage) {
            return $tooShort;
        }
        $this->clock?->refresh();
        if (null === $this->said || null === $this->audio) {
            return SipMessage::response($request, 491, null, [], '', $this->tag);
        }
        if ('' !== $request->body) {
            try {
                $offer = Session::fromString($request->body);
            } catch (ParseError) {
                return SipMessage::response($request, 488, null, [], '', $this->tag);
            }
            if (null === $this->said->common($offer)) {
                return SipMessage::response($request, 488, null, [], '', $this->tag);
            }
            $this->said = $this->said->answering($offer);
            $this->offer = $offer;
            $this->audio->turn($offer);
        }

        return SipMessage::response($request, 200, null, [
            ...($this->clock?->headers() ?? []),
            ['Content-Type', 'application/sdp'],
        ], (string) $this->said, $this->tag);
    }

    /** @return list<array{string, string}> its headers for the session timer: the call continues */
    public function timerHeaders(): array
    {
        $this->clock?->refresh();

        return $this->clock?->headers() ?? [];
    }

    public function end(): void
    {
        $this->clock?->end();
        $this->audio?->stop();
    }
}
