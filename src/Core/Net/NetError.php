<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

use Vorhut\Core\Text\Speaks;

/** What this room throws. */
interface NetError extends Speaks
{
}
