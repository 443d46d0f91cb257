<?php

declare(strict_types=1);

namespace Vorhut\Outpost;

use Vorhut\Core\Text\Speaks;

/** What this room throws. */
interface OutpostError extends Speaks
{
}
