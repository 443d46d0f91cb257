<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Radius\Code;
use Vorhut\Core\Wire\Radius\Eap;
use Vorhut\Core\Wire\Radius\RadiusPacket;
use Vorhut\Socket\Background;

/**
 * An authentication server: answers only its clients, reports its status to them (RFC 5997), and accepts users with the right password (RFC
 * 2865 §5.2). With EAP it agrees on a method and accepts every user who agrees (RFC 3748 §2): it has neither certificate nor tunnel, so
 * credentials are not checked, and it says so.
 */
final class RadiusServer implements Behaviour
{
    private GatedDatagrams $socket;
    private string $said = '';

    /**
     * @param \Closure(Ipv4): ?string         $secretOf site address of a client → the secret that the two have
     * @param \Closure(): array<string, string> $users  name → password
     * @param \Closure(string): void          $say      hears step by step what became of a request
     */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        int $port,
        private readonly \Closure $secretOf,
        private readonly \Closure $users,
        private readonly \Closure $say,
    ) {
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, $port);
        Background::run('RADIUS', function (): void {
            while (null !== $received = $this->socket->receive()) {
                $this->take(...$received);
            }
        });
    }

    public function end(): void
    {
        $this->socket->close();
    }

    private function take(Ipv4 $from, int $port, string $bytes): void
    {
        $site = $this->network->siteOf($from) ?? $from;
        $secret = \in_array((string) $site, ValueType::List->parts($this->standIn->state->get('clientAddresses')), true)
            ? ($this->secretOf)($site)
            : null;
        if (null === $secret) {
            $this->note("$site is not a client: dropped without an answer");

            return;
        }
        try {
            $request = RadiusPacket::fromString($bytes);
        } catch (ParseError) {
            $this->note("$site: no packet of authentication");

            return;
        }
        $isSealed = null !== $request->attribute(RadiusPacket::MESSAGE_AUTHENTICATOR);
        if (($isSealed || Code::StatusServer === $request->code) && !$request->isSealedWith($secret)) {
            $this->note("$site: its secret is another: dropped without a word");

            return;
        }
        $answer = match ($request->code) {
            Code::StatusServer => $request->respond(Code::AccessAccept, $secret),
            Code::AccessRequest => $this->judge($request, $secret, $site),
            default => null,
        };
        if (null !== $answer) {
            $this->socket->send($from, $port, (string) $answer);
        }
    }

    private function judge(RadiusPacket $request, string $secret, Ipv4 $site): RadiusPacket
    {
        $user = (string) $request->attribute(RadiusPacket::USER_NAME);
        $name = substr((string) preg_replace('/[^\x21-\x7E]/', '?', $user), 0, 40);
        if (null !== $request->attribute(RadiusPacket::EAP_MESSAGE)) {
            return $this->negotiate($request, $secret, "$site: $name");
        }
        $password = ($this->users)()[$user] ?? null;
        $isRight = null !== $password && '' !== $password && hash_equals($password, (string) $request->password($secret));
        $known = null === $password ? 'unknown' : 'known';
        $this->note(\sprintf('%s: %s: user %s, password %s', $site, $name, $known, $isRight ? 'right' : 'wrong'));
        if (!$isRight) {
            return $request->respond(Code::AccessReject, $secret);
        }
        $this->standIn->state->put('ruleHits', (string) (1 + (int) $this->standIn->state->get('ruleHits')));
        $this->note("$site: $name: let in by the rule \"".$this->standIn->state->get('fleetRule').'"');

        return $request->respond(Code::AccessAccept, $secret);
    }

    /** Offers its methods one after the other, until the far end takes one or wants none of them. */
    private function negotiate(RadiusPacket $request, string $secret, string $who): RadiusPacket
    {
        try {
            $said = Eap::fromString((string) $request->attribute(RadiusPacket::EAP_MESSAGE));
        } catch (ParseError) {
            $this->note("$who: no EAP that can be read");

            return $request->respond(Code::AccessReject, $secret);
        }
        $known = array_intersect_key(Eap::METHODS, array_flip(ValueType::List->parts($this->standIn->state->get('methods'))));
        $name = static fn (int $type): string => array_search($type, Eap::METHODS, true) ?: (string) $type;
        $offer = match ($said->type) {
            Eap::IDENTITY => array_values($known)[0] ?? null,
            Eap::NAK => array_values(array_intersect($said->desiredMethods(), $known))[0] ?? null,
            default => null,
        };
        if (Eap::RESPONSE === $said->code && null !== $offer) {
            $this->note("$who: is offered ".$name($offer));

            return $request->respond(Code::AccessChallenge, $secret, [
                [RadiusPacket::EAP_MESSAGE, (string) new Eap(Eap::REQUEST, $said->id + 1, $offer, "\x20")],
                [RadiusPacket::STATE, $name($offer)],
            ]);
        }
        if (Eap::RESPONSE === $said->code && \in_array($said->type, $known, true)) {
            $this->standIn->state->put('ruleHits', (string) (1 + (int) $this->standIn->state->get('ruleHits')));
            $this->note("$who: takes ".$name((int) $said->type).': accepted by the method only, credentials not checked');

            return $request->respond(Code::AccessAccept, $secret, [
                [RadiusPacket::EAP_MESSAGE, (string) new Eap(Eap::SUCCESS, $said->id)],
                [RadiusPacket::REPLY_MESSAGE, 'Accepted by the method only: credentials were not checked.'],
            ]);
        }
        $this->note("$who: no method in common, here: ".implode(', ', array_keys($known)));

        return $request->respond(Code::AccessReject, $secret, [[RadiusPacket::EAP_MESSAGE, (string) new Eap(Eap::FAILURE, $said->id)]]);
    }

    private function note(string $line): void
    {
        // Who asks the same again and again is heard once.
        if ($line !== $this->said) {
            ($this->say)($this->standIn->state->device.': '.$line);
        }
        $this->said = $line;
    }
}
