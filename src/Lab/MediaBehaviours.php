<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Media\GroupStream;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;

/** Senders of streams, clocks and light. */
final class MediaBehaviours implements BehaviourSource
{
    public function of(Simulation $simulation, StandIn $standIn, Ipv4 $address): iterable
    {
        $network = $simulation->network();
        $kind = $standIn->kind;
        $listeners = new GroupListeners($simulation);
        if ($kind->has(Role::StreamSender) || $kind->has(Role::SharesSound)) {
            yield static fn (): Behaviour => new StreamSender(
                $network,
                $standIn,
                $address,
                $simulation->plan(...),
                static fn (GroupStream $sent): array => $listeners->within($standIn, $sent->group->ttl),
            );
        }
        if (null !== $kind->setting('pushUrl')) {
            yield static fn (): Behaviour => new SrtPusher(
                $network,
                $standIn,
                $address,
                static fn (Ipv4 $to): string => $simulation->secrets()->passphraseOf($network->nameOf($to) ?? ''),
            );
        }
        if (null !== $kind->setting('clockRole')) {
            yield static fn (): Behaviour => new ClockSender(
                $network,
                $standIn,
                $address,
                Mac::tryFromString($standIn->state->mac),
                static fn (): bool => (new ClockElection($simulation))->isWonBy($standIn),
                static fn (): array => $listeners->besides($standIn),
            );
        }
        if ($kind->has(Role::LightSender)) {
            yield static fn (): Behaviour => new LightSender(
                $network,
                $standIn,
                $address,
                static fn (): array => $listeners->besides($standIn),
            );
        }
    }
}
