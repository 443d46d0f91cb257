<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench;

use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** What a step of a run sheet waits for, and where it is cleared. */
final readonly class Obstacle implements \Stringable
{
    /** @param string $record the record to select there; empty for the stage itself */
    public function __construct(public Message $message, public Stage $stage, public string $record = '')
    {
    }

    public function __toString(): string
    {
        return (string) $this->message;
    }
}
