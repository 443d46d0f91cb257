<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

/** What a step does to the record of a device: what code asks for instead of the step's name. */
enum Effect: string
{
    /** From here on it is on the network, at its factory address if it has one. */
    case Powers = 'powers';
    /** Its own address is put in. */
    case Addresses = 'addresses';
    /** Values that were entered take effect. */
    case Restarts = 'restarts';
    /** The password it came with is gone. */
    case Secures = 'secures';
    case Names = 'names';
    /** It is told where its file is, or what its account is. */
    case Provisions = 'provisions';
    /** It is as the factory made it, whatever it held before. */
    case Resets = 'resets';
    case PutsInService = 'puts-in-service';
}
