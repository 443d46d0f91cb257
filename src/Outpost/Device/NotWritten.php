<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\OutpostError;

/** Nothing was put into the device, as far as anybody can tell from here; why. */
final class NotWritten extends \RuntimeException implements OutpostError
{
    public function __construct(private readonly Message $said)
    {
        parent::__construct((string) $said);
    }

    public function message(): Message
    {
        return $this->said;
    }
}
