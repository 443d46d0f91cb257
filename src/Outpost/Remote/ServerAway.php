<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\OutpostError;

/** The server cannot be asked now, or does not know this outpost (any more). */
final class ServerAway extends \RuntimeException implements OutpostError
{
    private function __construct(public readonly bool $isRefused, private readonly Message $said)
    {
        parent::__construct((string) $said);
    }

    public static function silent(string $reason): self
    {
        return new self(false, new Message('The server does not answer: {reason}', ['reason' => $reason]));
    }

    public static function ofStatus(int $status): self
    {
        return new self(true, new Message('The server does not know this outpost ({status}): pair it anew.', ['status' => $status]));
    }

    public function message(): Message
    {
        return $this->said;
    }
}
