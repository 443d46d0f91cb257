<?php

declare(strict_types=1);

namespace Vorhut\Core\Proof;

/** Prediction held against observation. */
enum Verdict: string
{
    case AsPlanned = 'as-planned';
    case Contrary = 'contrary';
    case NotYet = 'not-yet';
    case Stale = 'stale';

    public function label(): string
    {
        return match ($this) {
            self::AsPlanned => 'as planned',
            self::Contrary => 'contrary',
            self::NotYet => 'not yet',
            self::Stale => 'stale',
        };
    }
}
