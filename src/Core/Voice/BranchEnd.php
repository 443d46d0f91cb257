<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

/** Where one branch of a call can end. */
enum BranchEnd
{
    /** At a device of the job: a phone, a fax server, voicemail or the PBX itself. */
    case Inside;
    /** At an emergency centre. */
    case Emergency;
    /** At a number outside the site, by a trunk. */
    case Outside;
    /** With a provider, whose own rules decide. */
    case Provider;
    /** At a feature code: what the PBX does then is not part of the plan. */
    case Feature;
}
