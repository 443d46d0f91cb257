<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

/** The key that seals the secrets of a house (sodium secretbox, 32 bytes), as its file holds it: in base64, and nothing else. */
final readonly class SealingKey
{
    private function __construct(public string $bytes)
    {
    }

    /** @return self|null null if there is no such file, or it has other content */
    public static function fromFile(string $file): ?self
    {
        $text = is_file($file) && filesize($file) < 100 ? trim((string) @file_get_contents($file)) : '';
        $bytes = base64_decode($text, true);

        return false === $bytes || \SODIUM_CRYPTO_SECRETBOX_KEYBYTES !== \strlen($bytes) ? null : new self($bytes);
    }

    /** @return string as its file holds it */
    public function toText(): string
    {
        return base64_encode($this->bytes);
    }

    /** @return string nonce and box, in base64 */
    public function seal(string $secret): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($secret, $nonce, $this->bytes));
    }

    /** @return string|null null where it was sealed with another key, or is not sealed at all */
    public function open(?string $sealed): ?string
    {
        $bytes = base64_decode((string) $sealed, true);
        if (false === $bytes || \strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        $secret = sodium_crypto_secretbox_open(
            substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
            $this->bytes,
        );

        return false === $secret ? null : $secret;
    }

    /**
     * A key for another purpose (HKDF, RFC 5869), so that no use of one says anything about the other.
     *
     * @return string 32 bytes
     */
    public function derive(string $purpose): string
    {
        return hash_hkdf('sha256', $this->bytes, 32, $purpose);
    }
}
