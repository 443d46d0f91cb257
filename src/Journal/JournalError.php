<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface JournalError extends HasMessage
{
}
