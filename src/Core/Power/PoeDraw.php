<?php

declare(strict_types=1);

namespace Vorhut\Core\Power;

use Vorhut\Core\Catalogue\PoeClass;

/**
 * What a device at the end of a cable takes at the switch: the loop of the cable eats a part of the voltage, and what it eats grows with
 * the current (IEEE 802.3-2022, clauses 33 and 145).
 */
final readonly class PoeDraw
{
    /** Ohm of the loop of two pairs for 100 m at 20 °C, category 5e and better; four pairs halve it. */
    private const LOOP = 12.5;
    /** Copper: so much more for each degree over 20 °C. */
    private const WARMER = 0.004;
    private const LONGEST = 100.0;

    private function __construct(public float $ohm, public float $ampere, public float $watts)
    {
    }

    /**
     * @param float $watts   at the device
     * @param float $metres  of cable
     * @param float $volts   at the port
     * @param float $celsius in the bundle
     *
     * @return self|null null where it cannot be fed at that length: no current brings so much to the far end
     */
    public static function of(float $watts, float $metres, float $volts, bool $fourPairs = false, float $celsius = 20.0): ?self
    {
        $ohm = ($fourPairs ? self::LOOP / 2 : self::LOOP) * $metres / 100 * (1 + self::WARMER * ($celsius - 20));
        if ($ohm <= 0.0) {
            return new self(0.0, $watts / $volts, $watts);
        }
        $root = $volts ** 2 - 4 * $ohm * $watts;
        if ($root < 0.0) {
            return null;
        }
        $ampere = ($volts - sqrt($root)) / (2 * $ohm);

        return new self($ohm, $ampere, $volts * $ampere);
    }

    /** As a port of the class that the device is of feeds it, at the lowest voltage that such a port may have. */
    public static function byClass(PoeClass $class, float $watts, float $metres, float $celsius = 20.0): ?self
    {
        return self::of($watts, $metres, self::volts($class), $class->value >= PoeClass::C5->value, $celsius);
    }

    /**
     * Metres at which it could still be fed, and get no more than its class sets aside; 0 where none.
     *
     * A device at the limit of its class reaches 100 m by definition: the watts that the standard sets aside at the port are rounded, and
     * what such a device draws there counts as the limit (IEEE 802.3bt, table 145-16).
     */
    public static function longest(PoeClass $class, float $watts, float $celsius = 20.0): int
    {
        $most = max($class->atPort() + 0.005, self::byClass($class, $class->atDevice(), self::LONGEST)->watts ?? 0.0);
        for ($metres = (int) self::LONGEST; $metres > 0; --$metres) {
            $draw = self::byClass($class, $watts, $metres, $celsius);
            if (null !== $draw && $draw->watts <= $most) {
                return $metres;
            }
        }

        return 0;
    }

    /** Lowest voltage at the port by type: 44 V for type 1, 50 V for types 2 and 3, 52 V for type 4. */
    public static function volts(PoeClass $class): float
    {
        return match (true) {
            $class->value <= PoeClass::C3->value => 44.0,
            $class->value <= PoeClass::C6->value => 50.0,
            default => 52.0,
        };
    }
}
