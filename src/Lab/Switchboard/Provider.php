<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\Callee;
use Vorhut\Lab\GatedDatagrams;
use Vorhut\Lab\SimulatedNetwork;
use Vorhut\Socket\SipLine;

/**
 * The far end of trunks, outside the site: accepts their registrations, answers outbound calls, and passes calls from outside on to the
 * site.
 */
final class Provider
{
    private const ALLOWED = ['REGISTER', 'INVITE', 'ACK', 'BYE', 'CANCEL', 'OPTIONS', 'UPDATE'];
    private const AGENT = 'Provider of the lab';
    private const RING_SECONDS = 30.0;
    private const FIRST_SECONDS = 4.0;

    private readonly SipLine $line;
    private readonly Callee $answerer;
    /** @var array<string, array{Ipv4, int}> user → where it registered from */
    private array $registered = [];
    private readonly JoinedCalls $calls;
    /** @var list<array{digits: string, callerId: string}> the last calls that came out of the site, the newest last */
    private array $heard = [];

    /** @param \Closure(): Plan $plan as it stands */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly Ipv4 $address,
        int $port,
        private readonly \Closure $plan,
    ) {
        $this->calls = new JoinedCalls();
        $name = SimulatedNetwork::outside($address);
        $this->answerer = new Callee($network, $name, $address, 'outside', self::AGENT, 0.3, 400, 20);
        $this->line = new SipLine(new GatedDatagrams($network, $name, $address, $port), $this->take(...), self::ALLOWED);
    }

    /** @return list<array{digits: string, callerId: string}> */
    public function receivedCalls(): array
    {
        return $this->heard;
    }

    /** @return list<string> users that stand here */
    public function registeredUsers(): array
    {
        return array_map(strval(...), array_keys($this->registered));
    }

    public function end(): void
    {
        $this->calls->end();
        $this->answerer->endAll();
        $this->line->close();
    }

    private function take(SipMessage $request, Ipv4 $from, int $port): void
    {
        if ($this->answerer->isInCall($request->callId())) {
            $this->answerer->take($this->line, $request, $from, $port);

            return;
        }
        if ($this->calls->take($this->line, $request, $from, $port)) {
            return;
        }
        match ($request->method) {
            'REGISTER' => $this->register($request, $from, $port),
            'INVITE' => $this->isOutOfTheSite($from) ? $this->outward($request, $from, $port) : $this->inward($request, $from, $port),
            'OPTIONS' => $this->line->answer($request, SipMessage::response($request, 200, null, [
                ['Allow', implode(', ', self::ALLOWED)],
                ['Server', self::AGENT],
            ]), $from, $port),
            'ACK' => null,
            default => $this->line->answer($request, SipMessage::response($request, 481), $from, $port),
        };
    }

    /** Requests from an address of the site are from a customer; all others are from outside. */
    private function isOutOfTheSite(Ipv4 $from): bool
    {
        $site = $this->network->siteOf($from);

        return null !== $site && !$this->network->isOutside($this->network->nameOf($site));
    }

    private function register(SipMessage $request, Ipv4 $from, int $port): void
    {
        $this->registered[$request->to()->user()] = [$from, $port];
        $this->line->answer($request, SipMessage::response($request, 200, null, [
            ['Contact', $request->header('Contact').';expires=60'],
        ]), $from, $port);
    }

    private function outward(SipMessage $request, Ipv4 $from, int $port): void
    {
        $this->heard[] = ['digits' => $request->requestedUser(), 'callerId' => $request->from()->user()];
        $this->heard = \array_slice($this->heard, -20);
        $this->answerer->onInvite($this->line, $request, $from, $port);
    }

    /** The customer whose number it is: registered here, or known by the address at which a rule leads SIP on. */
    private function inward(SipMessage $request, Ipv4 $from, int $port): void
    {
        $this->line->answer($request, SipMessage::response($request, 100), $from, $port);
        $customer = $this->customer($request->requestedUser());
        if (null === $customer) {
            $this->line->answer($request, SipMessage::response($request, 404), $from, $port);

            return;
        }
        $call = $this->calls->begin(new IncomingLeg($this->line, $request, $from, $port, self::AGENT));
        $leg = new OutgoingLeg(
            $this->line,
            $customer[0],
            $customer[1],
            \sprintf('sip:%s@%s', $request->requestedUser(), $customer[0]),
            \sprintf('<sip:%s@%s>', $request->from()->user(), $this->line->socket->address()),
            self::AGENT,
            null === $request->header('Date') ? [] : [['Date', $request->header('Date')]],
        );
        $status = $call->ring([$leg], $request->body, self::RING_SECONDS, self::FIRST_SECONDS);
        if (200 === $status) {
            $call->caller->answer($leg->session(), $leg->assertedIdentity());
        } else {
            $call->caller->refuse($status);
        }
    }

    /** @return array{Ipv4, int}|null */
    private function customer(string $number): ?array
    {
        $plan = ($this->plan)();
        foreach ($plan->inboundRoutes as $route) {
            $trunk = $plan->trunks[$route->trunk] ?? null;
            if (null === $trunk || true !== $trunk->address?->equals($this->address) || 'full' !== $route->map->match($number)) {
                continue;
            }
            if ($trunk->registers) {
                return $this->registered[$trunk->user] ?? null;
            }
            $pbx = $plan->devices[$trunk->pbx]->nic()?->setting('address')->planned;
            $inside = Ipv4::tryFromString($pbx ?? '');
            $led = null === $inside ? [] : $this->network->ledTo($inside, $trunk->port);

            return match (true) {
                null === $inside => null,
                [] !== $led => [$this->line->socket->at($led[0][0]), $led[0][1]],
                default => [$this->line->socket->at($inside), $trunk->port],
            };
        }

        return null;
    }
}
