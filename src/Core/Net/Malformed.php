<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

use Vorhut\Core\Text\CarriesMessage;

/** Text that is not the value it was taken for; it says so in a whole sentence that can stand beside the field. */
final class Malformed extends \InvalidArgumentException implements NetError
{
    use CarriesMessage;
}
