<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a device is fed with, and how much it takes at most. */
final readonly class Power
{
    /** What a battery really gives, at the voltage that is wanted. */
    private const GIVEN = 0.85;

    /**
     * @param string   $by    poe, supply, mains, battery
     * @param float    $watts at most, at the device
     * @param int      $inlets how many supplies it has
     * @param float|null $wattHours of its battery
     */
    public function __construct(
        public string $by,
        private ?PoeClass $class,
        public float $watts,
        public int $inlets,
        public ?float $wattHours = null,
    ) {
    }

    public static function read(Reading $read): self
    {
        $class = $read->textOrNull('class');

        return new self(
            $read->text('by', 'mains'),
            null === $class ? null : PoeClass::tryFrom((int) $class),
            $read->number('watts', 0.0),
            (int) $read->text('inlets', '1'),
            $read->has('wattHours') ? $read->number('wattHours', 0.0) : null,
        );
    }

    /** Hours that it runs on its battery at this share of the load; null where it has no battery, or the capacity is not known. */
    public function hours(): ?float
    {
        return null === $this->wattHours || $this->watts <= 0 ? null : $this->wattHours * self::GIVEN / $this->watts;
    }

    /** The PoE class that it needs when powered over its data port: its own, or the class for its watts; null for other power sources. */
    public function poe(): ?PoeClass
    {
        return 'poe' === $this->by ? $this->class ?? PoeClass::for($this->watts) ?? PoeClass::C8 : null;
    }
}
