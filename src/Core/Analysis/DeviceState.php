<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis;

/** How far a device is. */
enum DeviceState: string
{
    /** Nothing was done at it. */
    case Boxed = 'boxed';
    /** Its run sheet is begun. */
    case Bench = 'bench';
    /** Its run sheet is finished. */
    case Staged = 'staged';
    /** All its tests passed. */
    case Proved = 'proved';
    /** One of its tests failed. */
    case Failed = 'failed';
}
