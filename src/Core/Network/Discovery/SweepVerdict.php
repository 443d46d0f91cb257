<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

enum SweepVerdict: string
{
    /** The planned device answered. */
    case Right = 'right';
    /** A device answered at a planned address, but this network does not tell which one it was. */
    case Unidentified = 'unidentified';
    /** A device of the job, elsewhere than planned. */
    case Moved = 'moved';
    /** Another than the one that is planned there. */
    case Other = 'other';
    case Stranger = 'stranger';
    /** Planned there, and silent. */
    case Missing = 'missing';
    /** One address of two devices, or one device at two addresses. */
    case Double = 'double';

    public function label(): string
    {
        return match ($this) {
            self::Right => 'as planned',
            self::Unidentified => 'answers',
            self::Moved => 'right device, wrong address',
            self::Other => 'wrong device at this address',
            self::Stranger => 'unknown device',
            self::Missing => 'missing',
            self::Double => 'duplicate',
        };
    }
}
