<?php

declare(strict_types=1);

namespace Vorhut\Core\Consistency;

/** How the ends of an agreement stand to one another. */
enum Standing: string
{
    case Holds = 'holds';
    case Broken = 'broken';
    /** An end has no value yet. */
    case Unknown = 'unknown';
}
