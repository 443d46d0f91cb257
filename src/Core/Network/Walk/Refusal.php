<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** Why Wi-Fi refuses a device, with the facts that this was computed from. */
final readonly class Refusal
{
    public function __construct(public Message $text, public Facts $facts)
    {
    }
}
