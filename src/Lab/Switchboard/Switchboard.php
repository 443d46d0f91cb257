<?php

declare(strict_types=1);

namespace Vorhut\Lab\Switchboard;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Extension;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Voice\CallRouting;
use Vorhut\Core\Voice\CallRoutingEnd;
use Vorhut\Core\Voice\Switching;
use Vorhut\Core\Wire\Sdp\Session;
use Vorhut\Core\Wire\Sip\CalledNumber;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Lab\GatedDatagrams;
use Vorhut\Lab\MediaPorts;
use Vorhut\Lab\SimulatedNetwork;
use Vorhut\Lab\StandIn;
use Vorhut\Socket\AudioLine;
use Vorhut\Socket\Background;
use Vorhut\Socket\SipLine;

use function Amp\delay;

/**
 * The part of a PBX that switches calls beyond its own phones: groups, menus, forwards, trunks. It uses the rules from which the plan is
 * computed, answers one side and calls the other (RFC 7092), and relays the audio of both.
 */
final class Switchboard
{
    private const LED_ON = 8;
    /** How long the far end of a trunk may say nothing at all before the next one is tried; and how long anybody may ring. */
    private const TRUNK_SECONDS = 3.0;
    private const RING_SECONDS = 30.0;
    /** Sounds that tell a person which device answered; the last is a fax machine's (ITU-T T.30 §4.3.3.2). */
    private const PROMPT = 520;
    private const VOICEMAIL = 880;
    private const ANALOGUE = 350;
    private const FAX = 2100;
    private const REGISTERS_EVERY = 20.0;
    private const AT_ONCE = 100;

    private readonly JoinedCalls $calls;
    private bool $over = false;

    /**
     * @param \Closure(): Plan                              $plan   as it stands
     * @param \Closure(string): list<array{string, Ipv4, int}> $bound  number → where it is registered: contact, host, port
     * @param \Closure(): string                            $now    wall time of the site
     */
    public function __construct(
        private readonly SimulatedNetwork $network,
        private readonly StandIn $standIn,
        private readonly Ipv4 $address,
        private readonly SipLine $line,
        private readonly \Closure $plan,
        private readonly \Closure $bound,
        private readonly \Closure $now,
        private readonly float $patience,
    ) {
        $this->calls = new JoinedCalls($this->transfer(...));
        Background::run('trunks of '.$standIn->state->device, $this->keepTrunks(...));
    }

    /** The trunk of a request, by its source address. */
    public function trunkFrom(Ipv4 $from): ?Trunk
    {
        $site = $this->network->siteOf($from);
        $name = null === $site ? null : $this->network->nameOf($site);
        if (null !== $name) {
            foreach (($this->plan)()->trunks as $trunk) {
                $far = $trunk->far ?? (null === $trunk->address ? null : SimulatedNetwork::outside($trunk->address));
                if ($trunk->pbx === $this->standIn->state->device && $far === $name) {
                    return $trunk;
                }
            }
        }

        return null;
    }

    /**
     * A call that a phone makes.
     *
     * @param string $caller its number
     *
     * @return bool whether it was led here; a plain call between two phones is only handed on
     */
    public function call(SipMessage $invite, Ipv4 $from, int $port, string $caller): bool
    {
        $plan = ($this->plan)();
        $by = $plan->extensionNumbered($caller);
        $routing = null === $by ? null : Switching::of($plan)->dial($by, $invite->requestedUser(), $this->hour($invite));
        if (null === $routing || !self::isJoined($routing, $invite->requestedUser())) {
            return false;
        }
        $this->lead($invite, $from, $port, $routing, $by, null);

        return true;
    }

    private static function isJoined(CallRouting $routing, string $number): bool
    {
        $to = $routing->ring[0] ?? null;

        return match ($routing->end) {
            CallRoutingEnd::Extension => $number !== $to?->number
                || 'sip' !== $to->terminal
                || '' !== $to->forwardBusy.$to->forwardUnanswered,
            CallRoutingEnd::Group, CallRoutingEnd::Menu, CallRoutingEnd::Outside, CallRoutingEnd::Fax => true,
            default => false,
        };
    }

    public function arrive(SipMessage $invite, Ipv4 $from, int $port, Trunk $trunk): void
    {
        $routing = Switching::of(($this->plan)())->inbound($trunk, $invite->requestedUser(), $this->hour($invite));
        $this->lead($invite, $from, $port, $routing, null, $trunk);
    }

    /** A request within a call that is joined here. */
    public function take(SipMessage $request, Ipv4 $from, int $port): bool
    {
        return $this->calls->take($this->line, $request, $from, $port);
    }

    public function end(): void
    {
        $this->over = true;
        $this->calls->end();
    }

    private function lead(SipMessage $invite, Ipv4 $from, int $port, CallRouting $routing, ?Extension $by, ?Trunk $trunk): void
    {
        if ($this->calls->count() >= self::AT_ONCE) {
            $this->line->answer($invite, SipMessage::response($invite, 503), $from, $port);

            return;
        }
        $this->line->answer($invite, SipMessage::response($invite, 100), $from, $port);
        $this->follow(
            $this->calls->begin(new IncomingLeg($this->line, $invite, $from, $port, $this->standIn->kind->name)),
            $routing,
            $by,
            $trunk,
        );
    }

    /** The caller of a call that stands is led on to another number, by the rules of the plan. */
    private function transfer(JoinedCall $call, string $number): void
    {
        $routing = Switching::of(($this->plan)())->forwarded($this->standIn->state->device, $number, $this->hour($call->caller->invite));
        $this->follow($call, $routing, null, null);
    }

    private function follow(JoinedCall $call, CallRouting $routing, ?Extension $by, ?Trunk $trunk): void
    {
        for ($led = 0; null !== $routing && $led < self::LED_ON && !$call->isOver(); ++$led) {
            $routing = match ($routing->end) {
                CallRoutingEnd::Extension, CallRoutingEnd::Group => $this->phones($call, $routing, $trunk),
                CallRoutingEnd::Menu => $this->menu($call, $routing, $by, $trunk),
                CallRoutingEnd::Fax => $this->fax($call, $routing, $trunk),
                CallRoutingEnd::Outside => $this->outside($call, $routing, $by, $trunk),
                CallRoutingEnd::Denied => $this->refuse($call, 403),
                CallRoutingEnd::Incomplete => $this->refuse($call, 484),
                default => $this->refuse($call, 404),
            };
        }
        if (null !== $routing) {
            $this->refuse($call, 482);
        }
    }

    private function refuse(JoinedCall $call, int $status): null
    {
        $call->caller->refuse($status);

        return null;
    }

    /** Phones of this PBX, together or in turn; then where the group or the one who was called says. */
    private function phones(JoinedCall $call, CallRouting $routing, ?Trunk $trunk): ?CallRouting
    {
        $group = $routing->group;
        $first = $routing->ring[0];
        if (null === $group && 'analogue' === $first->terminal) {
            $ports = (int) $this->standIn->state->get('analoguePorts');

            return 0 === $ports ? $this->refuse($call, 480) : $this->speaks($call, self::ANALOGUE, $first->number, $trunk);
        }
        $rounds = 'in-turn' === $group?->order ? array_map(static fn (Extension $one): array => [$one], $routing->ring) : [$routing->ring];
        $seconds = null === $group ? $this->patience : min((float) $group->seconds, $this->patience);
        $status = 480;
        foreach ($rounds as $members) {
            $there = $this->side();
            $legs = $numbers = [];
            foreach ($members as $member) {
                foreach (($this->bound)($member->number) as [$contact, $host, $port]) {
                    $legs[] = $leg = new OutgoingLeg($this->line, $host, $port, $contact, $this->label($call), $this->standIn->kind->name);
                    $numbers[$leg->callId] = $member->number;
                }
            }
            $status = [] === $legs
                ? 480
                : $call->ring($legs, $this->session($there, $call, $this->line->socket->address()), $seconds, $seconds);
            if (200 === $status) {
                $number = $numbers[$call->answeredLeg()->callId ?? ''] ?? '';

                return $this->join($call, $there, $this->identity($number), $trunk, $this->line->socket->address());
            }
            $there->stop();
            if ($call->isOver()) {
                return null;
            }
        }
        if (488 === $status && null === $group) {
            // Who says no has answered.
            return $this->refuse($call, $status);
        }
        $next = match (true) {
            null !== $group => $group->otherwise,
            486 === $status => $first->forwardBusy,
            default => $first->forwardUnanswered,
        };
        if ('' !== $next) {
            return Switching::of(($this->plan)())->forwarded(
                $this->standIn->state->device,
                $next,
                $this->hour($call->caller->invite),
                null === $group ? $first : null,
            );
        }

        return null === $group && $first->voicemail
            ? $this->speaks($call, self::VOICEMAIL, 'voicemail', $trunk)
            : $this->refuse($call, $status);
    }

    /** Answers, announces the menu, and forwards the call by the key pressed. */
    private function menu(JoinedCall $call, CallRouting $routing, ?Extension $by, ?Trunk $trunk): ?CallRouting
    {
        $menu = $routing->menu;
        if (null === $menu) {
            return $this->refuse($call, 404);
        }
        $this->speaks($call, self::PROMPT, $menu->number, $trunk);
        for ($until = microtime(true) + $menu->seconds; !$call->isOver() && microtime(true) < $until;) {
            $key = $call->key($until - microtime(true));
            $to = null === $key ? null : $menu->choices[$key] ?? null;
            if (null !== $to) {
                return $this->forwarded($call, $to, $by);
            }
        }

        return $call->isOver() || '' === $menu->otherwise
            ? $this->refuse($call, 480)
            : $this->forwarded($call, $menu->otherwise, $by);
    }

    /** Where a number leads that a menu names, at this hour. */
    private function forwarded(JoinedCall $call, string $number, ?Extension $by): CallRouting
    {
        return Switching::of(($this->plan)())->forwarded(
            $this->standIn->state->device,
            $number,
            $this->hour($call->caller->invite),
            $by,
        );
    }

    /** Taken by the device that it is of, else by the PBX itself. */
    private function fax(JoinedCall $call, CallRouting $routing, ?Trunk $trunk): ?CallRouting
    {
        $to = $routing->ring[0];
        $bound = ($this->bound)($to->number);

        return [] === $bound ? $this->speaks($call, self::FAX, $to->number, $trunk) : $this->phones($call, $routing, $trunk);
    }

    /** Where this PBX says which number was dialled; to who switches calls himself it says it where it belongs. */
    private function calledIn(Trunk $way): CalledNumber
    {
        $far = ($this->plan)()->devices[$way->far ?? ''] ?? null;

        return null === $far?->kind->setting('calledFrom')
            ? CalledNumber::To
            : CalledNumber::tryFrom($this->standIn->state->get('faxCalledIn')) ?? CalledNumber::To;
    }

    /** By the first of the route's trunks that takes it. */
    private function outside(JoinedCall $call, CallRouting $routing, ?Extension $by, ?Trunk $trunk): null
    {
        $plan = ($this->plan)();
        if (null !== $routing->emergency || $plan->emergencyNumbers()->isMeant($routing->sent)) {
            // A rehearsal never comes near an emergency number, whichever way a call was led to it.
            return $this->refuse($call, 603);
        }
        $status = 503;
        foreach ($routing->route->trunks ?? [] as $key) {
            $way = $plan->trunks[$key] ?? null;
            $address = null === $way ? null : self::farOf($plan, $way);
            if (null === $way || null === $address) {
                continue;
            }
            $host = $this->line->socket->at($address);
            $there = $this->side();
            $caller = '' === $routing->callerId ? ($by->number ?? $way->user) : $routing->callerId;
            $says = $this->calledIn($way);
            $target = match (true) {
                CalledNumber::To === $says => $routing->sent,
                '' === $way->user => 'fax',
                default => $way->user,
            };
            $leg = new OutgoingLeg(
                $this->line,
                $host,
                $way->port,
                \sprintf('sip:%s@%s', $target, $host),
                \sprintf('<sip:%s@%s>', $caller, $this->line->socket->address()),
                $this->standIn->kind->name,
                $says->headers($routing->sent, $target, (string) $this->line->socket->address()),
            );
            $session = $this->session($there, $call, $this->announcedAddress($way));
            $status = $call->ring([$leg], $session, self::RING_SECONDS, self::TRUNK_SECONDS);
            if (200 === $status) {
                $who = CalledNumber::To === $says ? $leg->assertedIdentity() : $this->identity($routing->sent);

                return $this->join($call, $there, $who, $trunk, $this->announcedAddress($way));
            }
            $there->stop();
            // A busy or unknown party is the same through the next trunk (RFC 3261 §16.7).
            if ($call->isOver() || ($status >= 400 && $status < 500 && 408 !== $status) || $status >= 600) {
                break;
            }
        }

        return $this->refuse($call, $status);
    }

    /** The PBX answers itself. */
    private function speaks(JoinedCall $call, int $hertz, string $as, ?Trunk $trunk): null
    {
        $here = $call->here(fn (): AudioLine => $this->side($hertz, $call->onKey(...)));
        $near = $call->caller->offer();
        if (!$call->caller->isAnswered()) {
            delay(0.1);
        }
        if (!$call->isOver()) {
            $call->caller->answer(
                $this->session($here, $call, $this->announcedAddress($trunk)),
                $this->identity($as),
            );
            if (null !== $near && !$here->isStarted()) {
                $here->start($near->address, $near->port);
            }
        }

        return null;
    }

    /** @param Ipv4 $announced the address that the answering party announced */
    private function join(JoinedCall $call, AudioLine $there, string $asserted, ?Trunk $trunk, Ipv4 $announced): null
    {
        if ($call->isOver()) {
            // The caller left in the moment of the answer.
            $there->stop();

            return null;
        }
        $here = $call->here(fn (): AudioLine => $this->side(self::PROMPT, $call->onKey(...)));
        $call->caller->answer($this->session($here, $call, $this->announcedAddress($trunk)), $asserted);
        $call->join($here, $there, ['caller' => $this->announcedAddress($trunk), 'called' => $announced], $this->faxRelay(...));

        return null;
    }

    /** @param (\Closure(string): void)|null $pressed */
    private function side(int $hertz = self::PROMPT, ?\Closure $pressed = null): AudioLine
    {
        return MediaPorts::line($this->network, $this->standIn->state->device, $this->address, $hertz, $pressed);
    }

    private function faxRelay(): FaxRelay
    {
        $one = fn (): GatedDatagrams => MediaPorts::one($this->network, $this->standIn->state->device, $this->address);

        return new FaxRelay($one(), $one());
    }

    private function session(AudioLine $side, JoinedCall $call, Ipv4 $announced): string
    {
        return (string) new Session($announced, $side->port(), [Session::PCMU], 1, $call->caller->offer()?->keys);
    }

    /** The address announced outside: as set, else its own, which cannot be reached from there. */
    private function announcedAddress(?Trunk $trunk): Ipv4
    {
        $set = null === $trunk || null !== $trunk->far ? null : Ipv4::tryFromString($this->standIn->state->get('announcedAddress'));

        return null === $set ? $this->line->socket->address() : $this->line->socket->at($set);
    }

    private function identity(string $number): string
    {
        return \sprintf('<sip:%s@%s>', $number, $this->line->socket->address());
    }

    private function label(JoinedCall $call): string
    {
        return $this->identity($call->caller->invite->from()->user());
    }

    /** Trunks that register do so again and again: by that the way in stays open through a router that translates (RFC 5626 §3.5). */
    private function keepTrunks(): void
    {
        $sequence = 0;
        while (!$this->over) {
            foreach (($this->plan)()->trunks as $trunk) {
                $address = null === $trunk->far ? $trunk->address : null;
                if ($trunk->pbx !== $this->standIn->state->device || !$trunk->registers || null === $address) {
                    continue;
                }
                $host = $this->line->socket->at($address);
                $here = $this->line->socket;
                $request = SipMessage::request('REGISTER', 'sip:'.$host, [
                    ['Via', $this->line->via()],
                    ['Max-Forwards', '70'],
                    ['From', \sprintf('<sip:%s@%s>;tag=%s', $trunk->user, $host, substr(md5($trunk->key), 0, 8))],
                    ['To', \sprintf('<sip:%s@%s>', $trunk->user, $host)],
                    ['Call-ID', $trunk->key.'-'.spl_object_id($this).'@switchboard'],
                    ['CSeq', ++$sequence.' REGISTER'],
                    ['Contact', \sprintf('<sip:%s@%s:%d>', $trunk->user, $here->address(), $here->port())],
                    ['Expires', '60'],
                ]);
                Background::run('trunk', fn () => $this->line->ask($request, $host, $trunk->port, 4.0));
            }
            delay(self::REGISTERS_EVERY, false);
        }
    }

    private static function farOf(Plan $plan, Trunk $trunk): ?Ipv4
    {
        return null === $trunk->far
            ? $trunk->address
            : $plan->devices[$trunk->far]->nic()?->addressAsSet();
    }

    /** What the caller says that it is, for a rehearsal of another hour; else what the clock says. */
    private function hour(SipMessage $invite): string
    {
        $date = \DateTimeImmutable::createFromFormat('!D, d M Y H:i:s \G\M\T', (string) $invite->header('Date'));

        return false === $date ? ($this->now)() : $date->format('Y-m-d H:i');
    }
}
