<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

use function Amp\delay;

/**
 * Takes calls: rings, answers, sends and measures sound, hangs up (RFC 3261 §13, offers by RFC 3264). One call at a time;
 * a second is busy.
 */
final class Callee
{
    private const BYE_SECONDS = 4.0;

    /** @var array<string, StandingCall> by Call-ID */
    private array $calls = [];
    /** @var array<string, true> */
    private array $givenUp = [];

    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly string $device,
        private readonly Ipv4 $address,
        private readonly string $user,
        private readonly string $agent,
        private readonly float $rings,
        private readonly int $hertz,
        private readonly int $atOnce = 1,
        /** @var (\Closure(float): void)|null hears for how many seconds it rings */
        private readonly ?\Closure $rang = null,
        /** @var (\Closure(): bool)|null whether it has the codec that is spoken here (G.711) */
        private readonly ?\Closure $speaks = null,
        /** @var (\Closure(StandingCall): void)|null hears when the sound of a call begins */
        private readonly ?\Closure $spoken = null,
        /** The address of the site that it tells callers to send media to; its own where none is set. */
        private readonly ?Ipv4 $announced = null,
    ) {
    }

    public function onInvite(SipLine $line, SipMessage $invite, Ipv4 $from, int $port, bool $answers = true): void
    {
        $id = $invite->callId();
        if ($this->isInCall($id)) {
            // Within a call that stands it changes that call (RFC 3261 §14.2).
            $this->take($line, $invite, $from, $port);

            return;
        }
        $tag = substr(hash('sha256', $id.$this->device), 0, 10);
        $offer = null;
        $refusal = $this->refusal($invite, $tag, $offer);
        if (null !== $refusal) {
            $line->answer($invite, $refusal, $from, $port);

            return;
        }
        $this->calls[$id] = $call = new StandingCall($line, $invite, $tag, $offer, $from, $port);
        // A caller that dialled its own address gets that one; a caller through NAT gets the announced address.
        $isOwn = str_contains($invite->uri, '@'.$line->socket->address());
        $announced = null === $this->announced || $isOwn ? $line->socket->address() : $line->socket->at($this->announced);
        $contact = ['Contact', \sprintf('<sip:%s@%s:%d>', $this->user, $announced, $line->socket->port())];
        $line->answer($invite, SipMessage::response($invite, 180, null, [$contact], '', $tag), $from, $port);
        if (null !== $this->rang) {
            ($this->rang)($this->rings);
        }
        if (!$answers) {
            return;
        }
        delay($this->rings);
        if (isset($this->givenUp[$id]) || !$this->isInCall($id)) {
            return;
        }
        $audio = MediaPorts::line($this->network, $this->device, $this->address, $this->hertz);
        [$answer, $time] = $call->answer($audio, $announced, function () use ($id, $call): void {
            Background::run('SIP BYE', static fn () => $call->dialog->ask('BYE', self::BYE_SECONDS));
            $this->end($id);
        });
        $line->answer(
            $invite,
            SipMessage::response(
                $invite,
                200,
                null,
                [
                    $contact,
                    ['User-Agent', $this->agent],
                    ['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS, UPDATE'],
                    ...$time,
                    ['Content-Type', 'application/sdp'],
                ],
                (string) $answer,
                $tag,
            ),
            $from,
            $port,
        );
        // A caller that vanishes does not keep the line busy forever.
        EventLoop::unreference(EventLoop::delay(60, fn () => $this->end($id)));
    }

    /**
     * Why a call is not taken: all lines busy, no sound that is understood, or a session timer that is too short.
     *
     * @param Session|null $offer set to the sound that is offered; null where it has to make an offer itself (RFC 3261 §13.2.1)
     */
    private function refusal(SipMessage $invite, string $tag, ?Session &$offer): ?SipMessage
    {
        if (\count($this->calls) >= $this->atOnce) {
            return SipMessage::response($invite, 486, null, [], '', $tag);
        }
        try {
            $offer = '' === $invite->body ? null : Session::fromString($invite->body);
        } catch (ParseError) {
            return SipMessage::response($invite, 400, null, [], '', $tag);
        }
        $speaks = null === $this->speaks || ($this->speaks)();
        if (!$speaks || (null !== $offer && !\in_array(Session::PCMU, $offer->formats, true))) {
            return SipMessage::response($invite, 488, null, [], '', $tag);
        }
        $timer = SessionTimer::negotiate($invite);

        return $timer instanceof SipMessage ? $timer : null;
    }

    /** The answer about a call that is active or ringing here; an unknown call does not exist (481). */
    public function take(SipLine $line, SipMessage $request, Ipv4 $from, int $port): void
    {
        match ($request->method) {
            'ACK' => $this->onAck($request),
            'CANCEL' => $this->onCancel($line, $request, $from, $port),
            'BYE' => $this->hungUp($line, $request, $from, $port),
            default => $line->answer($request, $this->within($line, $request), $from, $port),
        };
    }

    private function onAck(SipMessage $ack): void
    {
        $call = $this->calls[$ack->callId()] ?? null;
        if (true === $call?->onAck($ack) && null !== $this->spoken) {
            ($this->spoken)($call);
        }
    }

    private function within(SipLine $line, SipMessage $request): SipMessage
    {
        $call = $this->calls[$request->callId()] ?? null;
        if (null === $call) {
            return SipMessage::response($request, 481);
        }
        if ('INVITE' !== $request->method && '' === $request->body) {
            return SipMessage::response($request, 200, null, $call->timerHeaders());
        }
        $answer = $call->onReinvite($request);
        $here = $line->socket;

        return $answer->status >= 300 ? $answer : $answer->with(
            'Contact',
            \sprintf('<sip:%s@%s:%d>', $this->user, $here->address(), $here->port()),
        );
    }

    private function onCancel(SipLine $line, SipMessage $cancel, Ipv4 $from, int $port): void
    {
        $call = $this->calls[$cancel->callId()] ?? null;
        $line->answer($cancel, SipMessage::response($cancel, null === $call ? 481 : 200), $from, $port);
        if (null !== $call && !$call->isAnswered()) {
            $this->givenUp[$cancel->callId()] = true;
            $line->answer($call->invite, SipMessage::response($call->invite, 487, null, [], '', $call->tag), $from, $port);
            $this->end($cancel->callId());
        }
    }

    private function hungUp(SipLine $line, SipMessage $bye, Ipv4 $from, int $port): void
    {
        $line->answer($bye, SipMessage::response($bye, isset($this->calls[$bye->callId()]) ? 200 : 481), $from, $port);
        $this->end($bye->callId());
    }

    public function isInCall(string $id): bool
    {
        return isset($this->calls[$id]);
    }

    /** @return array{state: string, with: string, sent: int, heard: int}|null how the call stands that came here; null where none did */
    public function call(): ?array
    {
        foreach ($this->calls as $call) {
            return ['state' => $call->isAnswered() ? 'talking' : 'rings', 'with' => $call->caller()] + $call->packetCounts();
        }

        return null;
    }

    public function endAll(): void
    {
        foreach (array_keys($this->calls) as $id) {
            $this->end((string) $id);
        }
    }

    private function end(string $id): void
    {
        ($this->calls[$id] ?? null)?->end();
        unset($this->calls[$id]);
    }
}
