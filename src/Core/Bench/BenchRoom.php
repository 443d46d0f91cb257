<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Plan\Plan;

/** What there is at a bench: hands, and the switch that the devices are plugged into; and how many such benches. */
final readonly class BenchRoom
{
    private const PORTS = 8;

    /** @param float|null $watts what the switch can feed by PoE; null where nobody said */
    public function __construct(
        public int $people = 1,
        public int $ports = self::PORTS,
        public ?float $watts = null,
        public int $benches = 1,
    ) {
    }

    public static function of(Plan $plan): self
    {
        $watts = $plan->job->intOrNull('benchWatts');

        return new self(
            max(1, $plan->job->int('benchPeople', 1)),
            max(1, $plan->job->int('benchPorts', self::PORTS)),
            null === $watts ? null : (float) $watts,
            max(1, $plan->job->int('benches', 1)),
        );
    }
}
