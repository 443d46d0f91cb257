<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** How the typing of an address went wrong, where it can be told. */
enum NearMiss: string
{
    case Swapped = 'swapped';
    case Wrong = 'wrong';
    case Missing = 'missing';
    case TooMany = 'too-many';

    /** Null if one of them is not an address, or they differ by more than one slip. */
    public static function of(string $meant, string $typed): ?self
    {
        if ($meant === $typed || null === Ipv4::tryFromString($meant) || null === Ipv4::tryFromString($typed)) {
            return null;
        }
        for ($i = 0; $i < \strlen($meant) - 1; ++$i) {
            $swapped = $meant;
            [$swapped[$i], $swapped[$i + 1]] = [$meant[$i + 1], $meant[$i]];
            if ($swapped === $typed) {
                return self::Swapped;
            }
        }
        if (1 !== levenshtein($meant, $typed)) {
            return null;
        }

        return match (\strlen($typed) <=> \strlen($meant)) {
            0 => self::Wrong,
            -1 => self::Missing,
            default => self::TooMany,
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Swapped => 'two neighbours swapped.',
            self::Wrong => 'one digit is wrong.',
            self::Missing => 'one digit is missing.',
            self::TooMany => 'one digit too many.',
        };
    }
}
