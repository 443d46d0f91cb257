<?php

declare(strict_types=1);

namespace Vorhut\Lab;

/** Whose clock leads on a segment: one that is set to, else the one with the least identity of those that may (IEEE 1588 §9.3). */
final readonly class ClockElection
{
    public function __construct(private Simulation $simulation)
    {
    }

    public function isWonBy(StandIn $standIn): bool
    {
        $segment = $this->segmentOf($standIn);
        $role = $standIn->state->get('clockRole');
        if ('follower' === $role || null === $segment || $this->isMissing($standIn)) {
            return false;
        }
        if ('leader' === $role) {
            return true;
        }
        foreach ($this->simulation->standIns() as $other) {
            $isRival = $other !== $standIn && $this->segmentOf($other) === $segment && $this->takesPart($other);
            if ($isRival && $this->beats($other, $standIn)) {
                return false;
            }
        }

        return true;
    }

    private function takesPart(StandIn $other): bool
    {
        return $other->isUp() && !$this->isMissing($other) && null !== $other->kind->setting('clockRole');
    }

    private function beats(StandIn $other, StandIn $standIn): bool
    {
        $role = $other->state->get('clockRole');
        $isLess = [$other->state->mac, $other->state->device] < [$standIn->state->mac, $standIn->state->device];

        return 'leader' === $role || ('follower' !== $role && $isLess);
    }

    private function isMissing(StandIn $standIn): bool
    {
        return $standIn->state->isFaulty(InjectedFault::LeaderMissing);
    }

    private function segmentOf(StandIn $standIn): ?string
    {
        return ($this->simulation->plan()->devices[$standIn->state->device] ?? null)?->nic()?->segment;
    }
}
