<?php

declare(strict_types=1);

namespace Vorhut\Core\Document;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface DocumentError extends HasMessage
{
}
