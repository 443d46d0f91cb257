<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Walk\NetworkModel;

/** Where an outpost stands on a segment, and what it may ask: only addresses in networks that the job declares. */
final readonly class Place
{
    private function __construct(private Plan $plan, public Ipv4 $address)
    {
    }

    public static function on(Plan $plan, string $segment): ?self
    {
        $address = NetworkModel::of($plan, Face::Planned)->outpost($segment)?->address;

        return null === $address ? null : new self($plan, $address);
    }

    public function mayAsk(Ipv4 $address): bool
    {
        return null !== $this->plan->segmentAround($address);
    }
}
