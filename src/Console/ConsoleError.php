<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface ConsoleError extends HasMessage
{
}
