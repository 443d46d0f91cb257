<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Fax\Indicator;
use Vorhut\Core\Wire\Sdp\FaxSession;
use Vorhut\Core\Wire\Sip\CalledNumber;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\Background;
use Vorhut\Socket\FaxLine;
use Vorhut\Socket\SipLine;

use function Amp\delay;

/**
 * A fax server: takes a call with the tone of a fax machine (ITU-T T.30 §4.3.3.2), then changes it to T.38 where it was told to, and stays
 * with sound where it was not, or where the other end will not. So many calls at once as it has channels.
 */
final class FaxMachine implements Behaviour
{
    private const ALLOWED = ['INVITE', 'ACK', 'BYE', 'CANCEL', 'OPTIONS', 'UPDATE'];
    private const TONE = 2100;
    /** Seconds of tone before the change. */
    private const TONE_SECONDS = 0.8;
    private const CHANGE_SECONDS = 6.0;
    /** No fax here lasts longer. */
    private const LONGEST = 60.0;

    private SipLine $line;
    private Callee $callee;
    /** @var list<FaxLine> */
    private array $faxes = [];

    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        private readonly Ipv4 $address,
    ) {
        $state = $standIn->state;
        $this->callee = new Callee(
            $network,
            $state->device,
            $address,
            'fax',
            $standIn->kind->name,
            0.3,
            self::TONE,
            // Those that are kept for sending no call that comes in gets.
            max(0, max(1, (int) $state->get('channels')) - (int) $state->get('keptForSending')),
            spoken: $this->begins(...),
        );
        $this->line = new SipLine(
            new GatedDatagrams($network, $state->device, $address, 5060),
            function (SipMessage $request, Ipv4 $from, int $port): void {
                match ($request->method) {
                    'INVITE' => $this->onInvite($request, $from, $port),
                    'OPTIONS' => $this->line->answer(
                        $request,
                        SipMessage::response($request, 200, null, [['Allow', implode(', ', self::ALLOWED)]]),
                        $from,
                        $port,
                    ),
                    default => $this->callee->take($this->line, $request, $from, $port),
                };
            },
            self::ALLOWED,
        );
    }

    public function end(): void
    {
        foreach ($this->faxes as $fax) {
            $fax->stop();
        }
        $this->callee->endAll();
        $this->line->close();
    }

    /** Accepts a call from its gateway with the number of the fax; refuses any other. */
    private function onInvite(SipMessage $request, Ipv4 $from, int $port): void
    {
        $refusal = $this->callee->isInCall($request->callId()) ? null : $this->refusal($request, $from);
        if (null === $refusal) {
            $this->callee->onInvite($this->line, $request, $from, $port);

            return;
        }
        $this->line->answer($request, SipMessage::response($request, $refusal), $from, $port);
    }

    /** @return int|null the status with which a call is refused (RFC 3261 §21.4) */
    private function refusal(SipMessage $request, Ipv4 $from): ?int
    {
        $gateway = Ipv4::tryFromString($this->standIn->state->get('gatewayHost'));
        $site = $this->network->siteOf($from);
        if (null !== $gateway && null !== $site && !$gateway->equals($site)) {
            return 403;
        }

        return 1 === preg_match('/^[0-9*#+]+$/D', $this->calledIn($request)) ? null : 404;
    }

    private function calledIn(SipMessage $invite): string
    {
        $where = CalledNumber::tryFrom($this->standIn->state->get('calledFrom')) ?? CalledNumber::To;

        return $where->in($invite) ?? '';
    }

    /** The recipient of a fax: the entry in the table for the dialled number, else the default. */
    private function recipient(SipMessage $invite): void
    {
        $state = $this->standIn->state;
        $number = $this->calledIn($invite);
        $digits = (int) $state->get('calledDigits');
        $short = $digits > 0 ? substr($number, -$digits) : $number;
        preg_match_all('/([0-9*#]+)\s*(?:→|->|=|:)\s*([^\s,;]+@[^\s,;]+)/u', $state->get('inboundRecipients'), $table, \PREG_SET_ORDER);
        $to = $state->get('defaultRecipient');
        foreach ($table as [, $of, $mail]) {
            if ('' !== $short && ($digits > 0 ? substr($of, -$digits) : $of) === $short) {
                $to = $mail;
            }
        }
        $state->put('lastFax', \sprintf('for %s to %s', '' === $number ? 'an unknown number' : $number, '' === $to ? 'no recipient' : $to));
    }

    private function begins(StandingCall $call): void
    {
        $this->recipient($call->invite);
        if ('T.38' !== $this->standIn->state->get('faxTransport')) {
            return;
        }
        Background::run('fax', function () use ($call): void {
            delay(self::TONE_SECONDS);
            if (!$this->callee->isInCall($call->invite->callId())) {
                return;
            }
            $fax = new FaxLine(MediaPorts::one($this->network, $this->standIn->state->device, $this->address), Indicator::Called);
            $this->faxes[] = $fax;
            try {
                $answer = $call->dialog->ask('INVITE', self::CHANGE_SECONDS, [
                    ['Contact', \sprintf('<sip:fax@%s:%d>', $this->line->socket->address(), $this->line->socket->port())],
                    ['Content-Type', 'application/sdp'],
                ], (string) new FaxSession($this->line->socket->address(), $fax->port()));
                $far = 200 === $answer?->status ? FaxSession::tryFromString($answer->body) : null;
                if (null !== $far) {
                    $fax->start($far->address, $far->port);
                    for ($until = microtime(true) + self::LONGEST; $this->callee->isInCall($call->invite->callId());) {
                        if (microtime(true) > $until) {
                            break;
                        }
                        delay(0.2, false);
                    }
                }
            } finally {
                $fax->stop();
                $this->faxes = array_values(array_filter($this->faxes, static fn (FaxLine $one): bool => $one !== $fax));
            }
        });
    }
}
