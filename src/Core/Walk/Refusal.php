<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** Why a device is not let into a network, and what was read to say so. */
final readonly class Refusal
{
    public function __construct(public Message $text, public Facts $facts)
    {
    }
}
