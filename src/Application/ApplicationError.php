<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Text\HasMessage;

/** Every error of a use case. */
interface ApplicationError extends HasMessage
{
}
