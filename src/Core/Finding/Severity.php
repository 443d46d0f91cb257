<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding;

enum Severity: string
{
    /** Goes wrong for certain. */
    case Blocks = 'blocks';
    /** Will go wrong, later or under a condition. */
    case Risk = 'risk';
    /** Worth knowing. */
    case Note = 'note';

    public function rank(): int
    {
        return match ($this) {
            self::Blocks => 0,
            self::Risk => 1,
            self::Note => 2,
        };
    }
}
