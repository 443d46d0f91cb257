<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Catalogue\PoeClass;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;

/** What there is at a bench: hands, and the switch that the devices are plugged into; and how many such benches. */
final readonly class BenchRoom
{
    private const PORTS = 8;

    /**
     * @param float|null    $watts total PoE budget of the switch; null if not set
     * @param PoeClass|null $class the highest class that one of its ports supplies; null if not set
     */
    public function __construct(
        public int $people = 1,
        public int $ports = self::PORTS,
        public ?float $watts = null,
        public int $benches = 1,
        public ?PoeClass $class = null,
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
            PoeClass::tryFrom($plan->job->intOrNull('benchClass') ?? -1),
        );
    }

    /** Watts that its switch sets aside for the device: by its class, as a port learns it. None for what it cannot feed. */
    public function allots(Device $device): float
    {
        $class = $device->kind->power?->poe();

        return null === $class || $this->cannotFeed($device) ? 0.0 : $class->atPort();
    }

    /** Whether the device wants more than a port of the switch gives: it needs an injector, or a supply of its own. */
    public function cannotFeed(Device $device): bool
    {
        $class = $device->kind->power?->poe();

        return null !== $class && null !== $this->class && !$class->isFedBy($this->class);
    }
}
