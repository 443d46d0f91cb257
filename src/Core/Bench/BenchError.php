<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Text\HasMessage;

/** Every error of the bench. */
interface BenchError extends HasMessage
{
}
