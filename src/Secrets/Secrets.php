<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Vorhut\Entity\Credential;

/**
 * Seals and opens secrets (sodium secretbox). The key lies in a file outside the database; a copy of the database alone gives nothing away.
 */
final readonly class Secrets
{
    /** No 0 O 1 l I: somebody may have to type it. */
    private const ALPHABET = 'abcdefghijkmnpqrstuvwxyzABCDEFGHJKLMNPQRSTUVWXYZ23456789';

    public function __construct(private string $keyFile)
    {
    }

    public static function generate(int $length): string
    {
        $secret = '';
        for ($i = 0; $i < $length; ++$i) {
            $secret .= self::ALPHABET[random_int(0, \strlen(self::ALPHABET) - 1)];
        }

        return $secret;
    }

    /** Why a SIP secret is weak, or null. */
    public static function weakness(string $secret, string $user): ?string
    {
        return match (true) {
            '' === $secret => 'it is empty',
            $secret === $user => 'it is the extension',
            \strlen($secret) < 12 => 'it is shorter than 12 characters',
            1 === preg_match('/^[0-9]+$/', $secret) => 'it is digits only',
            default => null,
        };
    }

    public function seal(string $secret): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($secret, $nonce, $this->key()));
    }

    public function open(?Credential $credential): ?string
    {
        $bytes = base64_decode((string) $credential?->sealed, true);
        if (false === $bytes || \strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $secret = sodium_crypto_secretbox_open(
            substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $this->key(),
        );

        return false === $secret ? null : $secret;
    }

    private function key(): string
    {
        if (!is_file($this->keyFile)) {
            $old = umask(0o077);
            @mkdir(\dirname($this->keyFile), 0o700, true);
            // Whoever comes second must not overwrite the key of the first.
            $file = @fopen($this->keyFile, 'x');
            if (false !== $file) {
                fwrite($file, base64_encode(sodium_crypto_secretbox_keygen()));
                fclose($file);
            }
            umask($old);
        }
        $key = base64_decode((string) file_get_contents($this->keyFile), true);
        if (false === $key || \SODIUM_CRYPTO_SECRETBOX_KEYBYTES !== \strlen($key)) {
            throw new \RuntimeException(\sprintf('The key file %s is damaged.', $this->keyFile));
        }

        return $key;
    }
}
