<?php

declare(strict_types=1);

namespace Vorhut\Journal;

use Vorhut\Core\Plan\Message;

/** A change that is not made, with its reason. */
final class Refused extends \RuntimeException
{
    public function __construct(public readonly Message $reason)
    {
        parent::__construct((string) $reason);
    }
}
