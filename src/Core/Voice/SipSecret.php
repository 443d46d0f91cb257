<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice;

use Vorhut\Core\Plan\Credential;
use Vorhut\Core\Text\Message;

/** How strong the secret of a SIP account is: whoever guesses it makes calls at the customer's cost. */
final readonly class SipSecret
{
    /** In characters. */
    public const LEAST = 12;

    /** Why a secret is weak, or null. */
    public static function weakness(#[\SensitiveParameter] string $secret, string $user): ?string
    {
        return match (true) {
            '' === $secret => 'it is empty',
            $secret === $user => 'it is the extension',
            mb_strlen($secret) < self::LEAST => 'it is shorter than 12 characters',
            1 === preg_match('/^[0-9]+$/', $secret) => 'it is digits only',
            default => null,
        };
    }

    /** As weakness(), from what is recorded of a secret without the secret itself; a length of 0 means unknown. */
    public static function recordedWeakness(Credential $credential): string|Message|null
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
