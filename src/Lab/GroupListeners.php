<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Network\Discovery\Delivery;

/** Where devices of the job would listen to a group that a stand-in sends to: the places of outposts. */
final readonly class GroupListeners
{
    public function __construct(private Simulation $simulation)
    {
    }

    /** @return list<Ipv4> in the sender's own segments */
    public function besides(StandIn $sender): array
    {
        return $this->outpostsOn($this->segmentsOf($sender));
    }

    /** @return list<Ipv4> the same, and behind the routers that route groups, as far as the time to live lets it go */
    public function within(StandIn $sender, int $ttl): array
    {
        $plan = $this->simulation->plan();
        $heard = [];
        foreach ($this->segmentsOf($sender) as $from) {
            foreach ($plan->segments as $segment) {
                $hops = Delivery::hops($plan, $from, $segment->key);
                if (null !== $hops && $hops < $ttl && !$this->isDark($segment->key)) {
                    $heard[] = $segment->key;
                }
            }
        }

        return $this->outpostsOn($heard);
    }

    /** @return list<string> */
    private function segmentsOf(StandIn $sender): array
    {
        $segments = [];
        foreach ($this->simulation->plan()->devices[$sender->state->device]->nics ?? [] as $nic) {
            if (null !== $nic->segment) {
                $segments[] = $nic->segment;
            }
        }

        return $segments;
    }

    /**
     * @param list<string> $segments
     *
     * @return list<Ipv4>
     */
    private function outpostsOn(array $segments): array
    {
        $places = [];
        foreach ($segments as $segment) {
            $place = $this->simulation->network()->outpostOn($segment);
            if (null !== $place) {
                $places[] = $place;
            }
        }

        return $places;
    }

    /** Its switches watch who listens, and the one that asked does so no more. */
    private function isDark(string $segment): bool
    {
        foreach ($this->simulation->standIns() as $key => $standIn) {
            if (
                $standIn->state->isFaulty(InjectedFault::NoQuerier)
                && ($this->simulation->plan()->devices[$key] ?? null)?->nic()?->segment === $segment
            ) {
                return true;
            }
        }

        return false;
    }
}
