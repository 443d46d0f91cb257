<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Text\HasMessage;

/** What this room throws. */
interface ExchangeError extends HasMessage
{
}
