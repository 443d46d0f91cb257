<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sip\SessionTimer;
use Vorhut\Core\Wire\Sip\SipAddress;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\SipLine;

/** The calls that stand through one place, and what their two sides say within them. */
final class JoinedCalls
{
    /** Seconds: a caller that vanishes does not keep a line busy forever. */
    private const LONGEST = 120;

    /** @var list<JoinedCall> */
    private array $calls = [];

    /** @param (\Closure(JoinedCall, string): void)|null $transfer leads the caller of a call on to a number, where that can be done */
    public function __construct(private readonly ?\Closure $transfer = null)
    {
    }

    public function begin(IncomingLeg $caller): JoinedCall
    {
        $call = new JoinedCall($caller);
        $this->calls[] = $call;
        $limit = EventLoop::unreference(EventLoop::delay(self::LONGEST, static fn () => $caller->refuse(480)));
        $caller->whenOver(function () use ($call, $limit): void {
            EventLoop::cancel($limit);
            $this->calls = array_values(array_filter($this->calls, static fn (JoinedCall $one): bool => $one !== $call));
        });

        return $call;
    }

    public function count(): int
    {
        return \count($this->calls);
    }

    /** @return bool whether it belongs to one of them */
    public function take(SipLine $line, SipMessage $request, Ipv4 $from, int $port): bool
    {
        foreach ($this->calls as $call) {
            if (!$call->owns($request->callId())) {
                continue;
            }
            $isCaller = $request->callId() === $call->caller->invite->callId();
            if ('UPDATE' === $request->method && !$isCaller) {
                // Another one speaks there now: the caller is told (RFC 5876 §3).
                $call->caller->answer('', (string) $request->header('P-Asserted-Identity'));
            }
            match (true) {
                'ACK' === $request->method => null,
                'CANCEL' === $request->method && $isCaller => $call->caller->onCancel($request),
                'BYE' === $request->method && $isCaller => $call->caller->hungUp($request),
                'REFER' === $request->method => $this->refer($line, $call, $request, $isCaller, $from, $port),
                'INVITE' === $request->method, '' !== $request->body => self::change($line, $call, $request, $isCaller, $from, $port),
                $isCaller => $line->answer(
                    $request,
                    SipMessage::response($request, 200, null, $call->caller->heardFrom()),
                    $from,
                    $port,
                ),
                default => $line->answer($request, SipMessage::response($request, 200), $from, $port),
            };
            if ('BYE' === $request->method && !$isCaller) {
                $call->hangUp($request->callId());
            }

            return true;
        }

        return false;
    }

    /**
     * The called party transfers the caller to another number and leaves (RFC 3515, RFC 5589 §6). It is told that the transfer is tried,
     * and not the result.
     */
    private function refer(SipLine $line, JoinedCall $call, SipMessage $request, bool $isCaller, Ipv4 $from, int $port): void
    {
        try {
            $number = SipAddress::fromString((string) $request->header('Refer-To'))->user();
        } catch (ParseError) {
            $number = '';
        }
        $leg = $call->answeredLeg();
        $status = match (true) {
            '' === $number => 400,
            $isCaller, null === $leg, null === $this->transfer => 603,
            default => 202,
        };
        $line->answer($request, SipMessage::response($request, $status), $from, $port);
        if (202 === $status) {
            $leg->notify('SIP/2.0 100 Trying');
            $call->release();
            ($this->transfer)($call, $number);
        }
    }

    /** A change within a call, or a refresh without one; without an offer the answer describes the present session. */
    private static function change(SipLine $line, JoinedCall $call, SipMessage $request, bool $isCaller, Ipv4 $from, int $port): void
    {
        $tooShort = SessionTimer::negotiate($request);
        if ($tooShort instanceof SipMessage) {
            $line->answer($request, $tooShort, $from, $port);

            return;
        }
        $time = $isCaller ? $call->caller->heardFrom() : [];
        $held = $isCaller ? $call->caller->sessionSent() : $call->answeredLeg()?->sessionSent() ?? '';
        [$status, $session] = '' === $request->body ? ['' === $held ? 488 : 200, $held] : $call->onOffer($request, $isCaller);
        $line->answer($request, SipMessage::response($request, $status, null, 200 !== $status ? [] : [
            ['Contact', \sprintf('<sip:pbx@%s:%d>', $line->socket->address(), $line->socket->port())],
            ...$time,
            ['Content-Type', 'application/sdp'],
        ], $session), $from, $port);
    }

    public function end(): void
    {
        foreach ($this->calls as $call) {
            $call->end();
        }
        $this->calls = [];
    }
}
