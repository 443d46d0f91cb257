<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** The three faces of a value: what the plan wants, what was put into the device, what a probe read back. */
enum Face: string
{
    case Planned = 'planned';
    case Set = 'set';
    case Seen = 'seen';
}
