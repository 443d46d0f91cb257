<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\Credential;
use Vorhut\Core\Text\Message;

/** Strength of the secret of a SIP account: an attacker who guesses it makes calls at the customer's cost. */
final readonly class SipSecret
{
    /** In characters. */
    public const LEAST = 12;

    /** Why a secret is weak, judged by its record, which does not contain the secret; null if it is not. Length 0 means unknown. */
    public static function weakness(Credential $credential): string|Message|null
    {
        return match (true) {
            null !== $credential->weakness => $credential->weakness,
            0 < $credential->length && $credential->length < self::LEAST => new Message(
                'it is {length} characters long and needs at least {least}',
                ['length' => $credential->length, 'least' => self::LEAST],
            ),
            default => null,
        };
    }
}
