<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Text\Message;

/**
 * A login of a device in addition to the one that its kind has: for a viewer, for the stream, or one held by a person at the site. It can
 * be recorded before its password is known; its holder is a question then.
 */
final readonly class FurtherLogin
{
    /** Kept by the program itself, each for a purpose of its own. */
    private const RESERVED = ['admin', 'label', 'sip'];
    private const MOST = 120;

    private function __construct(
        public string $purpose,
        public string $user,
        public string $heldBy,
        public string $secret,
    ) {
    }

    /** @return self|non-empty-array<string, Message> the login, or its errors by field */
    public static function tryFrom(string $purpose, string $user, string $heldBy, string $secret): self|array
    {
        $login = new self(mb_strtolower(trim($purpose)), trim($user), trim($heldBy), $secret);
        $wrong = [];
        if (1 !== preg_match('/^[a-z0-9][a-z0-9-]{0,39}$/D', $login->purpose)) {
            $wrong['purpose'] = new Message('What it is for wants one word of letters, digits and hyphens: viewer, stream, installer.');
        } elseif (\in_array($login->purpose, self::RESERVED, true)) {
            $wrong['purpose'] = new Message(
                '"{purpose}" is kept by the program itself: choose another word.',
                ['purpose' => $login->purpose],
            );
        }
        foreach (['user' => $login->user, 'heldBy' => $login->heldBy, 'secret' => $login->secret] as $field => $text) {
            if (mb_strlen($text) > self::MOST) {
                $wrong[$field] = new Message('At most [n character|characters].', ['n' => self::MOST]);
            }
        }
        if ('' === $login->secret && '' === $login->heldBy) {
            $wrong['secret'] = new Message('Type the password, or who holds it.');
        }

        return [] === $wrong ? $login : $wrong;
    }

    public static function isReserved(string $purpose): bool
    {
        return \in_array($purpose, self::RESERVED, true);
    }
}
