<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Vorhut\Core\Text\Speaks;

/** What this room throws. */
interface ConsoleError extends Speaks
{
}
