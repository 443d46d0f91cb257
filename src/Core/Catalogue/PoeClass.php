<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/**
 * A class of power over Ethernet: what a port sets aside for a device of it, and what reaches that device (IEEE 802.3-2022, clauses 33
 * and 145).
 */
enum PoeClass: int
{
    case C0 = 0;
    case C1 = 1;
    case C2 = 2;
    case C3 = 3;
    case C4 = 4;
    case C5 = 5;
    case C6 = 6;
    case C7 = 7;
    case C8 = 8;

    /** Watts that the port sets aside. */
    public function atPort(): float
    {
        return match ($this) {
            self::C1 => 4.0,
            self::C2 => 7.0,
            self::C0, self::C3 => 15.4,
            self::C4 => 30.0,
            self::C5 => 45.0,
            self::C6 => 60.0,
            self::C7 => 75.0,
            self::C8 => 90.0,
        };
    }

    /** Watts that are left for the device at the end of 100 m. */
    public function atDevice(): float
    {
        return match ($this) {
            self::C1 => 3.84,
            self::C2 => 6.49,
            self::C0, self::C3 => 12.95,
            self::C4 => 25.5,
            self::C5 => 40.0,
            self::C6 => 51.0,
            self::C7 => 62.0,
            self::C8 => 71.3,
        };
    }

    /** Class 0 is one that does not tell what it needs: it gets what class 3 gets. */
    public function isFedBy(self $port): bool
    {
        return $this->atPort() <= $port->atPort();
    }

    /** The least class that feeds a device of so many watts; null where none does. */
    public static function for(float $watts): ?self
    {
        foreach ([self::C1, self::C2, self::C3, self::C4, self::C5, self::C6, self::C7, self::C8] as $class) {
            if ($watts <= $class->atDevice()) {
                return $class;
            }
        }

        return null;
    }
}
