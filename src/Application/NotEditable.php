<?php

declare(strict_types=1);

namespace Vorhut\Application;

use Vorhut\Core\Text\CarriesMessage;

/** A field that does not exist, or that no person may write: no page has such a form. */
final class NotEditable extends \InvalidArgumentException implements ApplicationError
{
    use CarriesMessage;
}
