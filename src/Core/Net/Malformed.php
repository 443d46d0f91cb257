<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** Text that is not the value it was taken for; the message is a whole sentence that can stand beside the field. */
final class Malformed extends \InvalidArgumentException
{
}
