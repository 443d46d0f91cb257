<?php

declare(strict_types=1);

namespace Vorhut\Console;

use Vorhut\Core\Text\CarriesMessage;

/** Input that the command cannot use; its message is the one line on standard error, the exit code is 2. */
final class BadInput extends \RuntimeException implements ConsoleError
{
    use CarriesMessage;
}
