<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** Where the first password of a device is known from. */
enum LoginPattern: string
{
    /** The same pair on every device of the kind. */
    case Fixed = 'fixed';
    case SerialNumber = 'serial';
    case OnTheLabel = 'label';
    case Empty = 'empty';
    /** Another person has it: the customer's administrator, the maker's partner. */
    case Held = 'held';
    /** There is nothing to log in to. */
    case None = 'none';
}
