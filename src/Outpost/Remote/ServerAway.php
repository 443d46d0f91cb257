<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Remote;

use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\OutpostError;

/** The server cannot be asked now, or has dismissed this outpost. */
final class ServerAway extends \RuntimeException implements OutpostError
{
    /** Of an outpost that it does not know (any more), a server never takes anything again (RFC 9110 §15.5). */
    private const DISMISSED = [401, 403, 404, 410];

    /** @param bool $isRefused whether asking again is of no use */
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
        return \in_array($status, self::DISMISSED, true)
            ? new self(true, new Message('The server does not know this outpost ({status}): pair it anew.', ['status' => $status]))
            : new self(false, new Message('The server refuses what this outpost sends ({status}).', ['status' => $status]));
    }

    public function message(): Message
    {
        return $this->said;
    }
}
