<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Fax;

/** What a fax machine is heard to do before it says anything: a T30_INDICATOR (ITU-T T.38 §7.3.1). */
enum Indicator: int
{
    case NoSignal = 0;
    /** The one that calls. */
    case Calling = 1;
    /** The one that is called. */
    case Called = 2;
    /** Flags, after which the first words come. */
    case Preamble = 3;
}
