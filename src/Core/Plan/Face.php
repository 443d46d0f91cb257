<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** The three faces of a value: planned, put into the device, read back by a probe. */
enum Face: string
{
    case Planned = 'planned';
    case Set = 'set';
    case Seen = 'seen';
}
