<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Text\CarriesMessage;

/** A change that is not made, with its reason. */
final class Refused extends \RuntimeException implements JournalError
{
    use CarriesMessage;
}
