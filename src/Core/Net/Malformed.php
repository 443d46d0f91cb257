<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

use Vorhut\Core\Text\CarriesMessage;

/** Text that is not a valid value; the message is a whole sentence that can be shown next to the field. */
final class Malformed extends \InvalidArgumentException implements NetError
{
    use CarriesMessage;
}
