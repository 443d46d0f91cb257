<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Probe;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface OutpostError extends HasMessage
{
}
