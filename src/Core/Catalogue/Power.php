<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a device is fed with, and how much it takes at most. */
final readonly class Power
{
    /**
     * @param string   $by    poe, supply, mains, battery
     * @param float    $watts at most, at the device
     * @param int      $inlets how many supplies it has
     */
    public function __construct(public string $by, private ?PoeClass $class, public float $watts, public int $inlets)
    {
    }

    public static function read(Reading $read): self
    {
        $class = $read->textOrNull('class');

        return new self(
            $read->text('by', 'mains'),
            null === $class ? null : PoeClass::tryFrom((int) $class),
            $read->number('watts', 0.0),
            (int) $read->text('inlets', '1'),
        );
    }

    /** The class it has as what hangs on a data port that feeds it: its own, or what its watts need; null for what is fed otherwise. */
    public function poe(): ?PoeClass
    {
        return 'poe' === $this->by ? $this->class ?? PoeClass::for($this->watts) ?? PoeClass::C8 : null;
    }
}
