<?php

declare(strict_types=1);

namespace Vorhut\Exchange;

use Vorhut\Core\Text\CarriesMessage;

/** The sealed part of a document does not open, or is not there. */
final class NotOpened extends \InvalidArgumentException implements ExchangeError
{
    use CarriesMessage;
}
