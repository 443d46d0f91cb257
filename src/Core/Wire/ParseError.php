<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire;

use Vorhut\Core\Text\CarriesMessage;

/** Bytes that are not a message of the protocol; the receiver answers 400 or drops them, it never falls over. */
final class ParseError extends \InvalidArgumentException implements WireError
{
    use CarriesMessage;
}
