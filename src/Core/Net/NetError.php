<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface NetError extends HasMessage
{
}
