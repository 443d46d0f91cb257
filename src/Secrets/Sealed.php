<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

/** Secrets under a passphrase, for a document that is to carry them: Argon2id for the key, secretbox for the content. */
final class Sealed
{
    private const CIPHER = 'argon2id-xsalsa20poly1305';

    /**
     * @param array<string, string> $secrets credential key → secret
     *
     * @return array<string, string>
     */
    public static function lock(array $secrets, string $passphrase): array
    {
        $salt = random_bytes(\SODIUM_CRYPTO_PWHASH_SALTBYTES);
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);
        $box = sodium_crypto_secretbox(json_encode($secrets, \JSON_THROW_ON_ERROR), $nonce, self::key($passphrase, $salt));

        return ['cipher' => self::CIPHER, 'salt' => base64_encode($salt), 'nonce' => base64_encode($nonce), 'box' => base64_encode($box)];
    }

    /**
     * @param array<string, mixed> $sealed
     *
     * @return array<string, string>|null null for a wrong passphrase
     */
    public static function unlock(array $sealed, string $passphrase): ?array
    {
        $part = static fn (string $name): string => base64_decode(\is_string($sealed[$name] ?? null) ? $sealed[$name] : '', true) ?: '';
        if (
            self::CIPHER !== ($sealed['cipher'] ?? null)
            || \SODIUM_CRYPTO_PWHASH_SALTBYTES !== \strlen($part('salt'))
            || \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES !== \strlen($part('nonce'))
        ) {
            return null;
        }
        $text = sodium_crypto_secretbox_open($part('box'), $part('nonce'), self::key($passphrase, $part('salt')));
        $secrets = false === $text ? null : json_decode($text, true);

        if (!\is_array($secrets)) {
            return null;
        }
        $open = [];
        foreach ($secrets as $key => $secret) {
            $open[(string) $key] = \is_string($secret) ? $secret : '';
        }

        return $open;
    }

    private static function key(string $passphrase, string $salt): string
    {
        return sodium_crypto_pwhash(
            \SODIUM_CRYPTO_SECRETBOX_KEYBYTES,
            $passphrase,
            $salt,
            \SODIUM_CRYPTO_PWHASH_OPSLIMIT_INTERACTIVE,
            \SODIUM_CRYPTO_PWHASH_MEMLIMIT_INTERACTIVE,
            \SODIUM_CRYPTO_PWHASH_ALG_ARGON2ID13,
        );
    }
}
