<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface WireError extends HasMessage
{
}
