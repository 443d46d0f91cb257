<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a device is fed with, and how much it takes at most. */
final readonly class Power
{
    /**
     * @param string   $by    poe, supply, mains, battery
     * @param int|null $class of PoE, 0 to 8 (IEEE 802.3bt)
     * @param float    $watts at most, at the device
     * @param int      $inlets how many supplies it has
     */
    public function __construct(public string $by, public ?int $class, public float $watts, public int $inlets)
    {
    }

    public static function read(Reading $read): self
    {
        $class = $read->textOrNull('class');

        return new self(
            $read->text('by', 'mains'),
            null === $class ? null : (int) $class,
            $read->number('watts', 0.0),
            (int) $read->text('inlets', '1'),
        );
    }

    public function isPoe(): bool
    {
        return 'poe' === $this->by;
    }
}
