<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Text\Message;

/** The network of the bench as a segment of its own: a laptop at the address of a stop, and devices as they come from the factory. */
final readonly class BenchSegment
{
    /** Its key in a plan. */
    public const KEY = 'lab-bench';

    public function __construct(public Ipv4 $laptop, public Network $network)
    {
    }

    /** The network of a stop; null where the laptop has no address of its own there. */
    public static function ofStop(Stop $stop): ?self
    {
        return null === $stop->laptop || null === $stop->mask
            ? null
            : new self($stop->laptop, Network::around($stop->laptop, $stop->mask));
    }

    /** The plan as it is seen from the bench. */
    public function in(Plan $plan): Plan
    {
        return $plan->with(new Change(new Message('The laptop is on the bench.'), [Edit::add('segments', $this->row())]));
    }

    /** @return array<string, string> */
    public function row(): array
    {
        return ['key' => self::KEY, 'name' => 'Bench', 'network' => (string) $this->network, 'outpost' => (string) $this->laptop];
    }
}
