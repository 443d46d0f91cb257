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

    private const NEXT = '.next';
    private const BEFORE = '.before';

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

    public function seal(string $secret): string
    {
        return self::sealed($secret, $this->key());
    }

    public function open(?Credential $credential): ?string
    {
        return $this->openSealed($credential?->sealed);
    }

    public function openSealed(?string $sealed): ?string
    {
        $bytes = base64_decode((string) $sealed, true);
        if (false === $bytes || \strlen($bytes) <= \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES) {
            return null;
        }
        // While the key is being changed, and for what was sealed in that very moment, the other one opens it.
        foreach ([$this->key(), self::read($this->keyFile.self::NEXT), self::read($this->keyFile.self::BEFORE)] as $key) {
            $secret = null === $key ? false : sodium_crypto_secretbox_open(
                substr($bytes, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
                substr($bytes, 0, \SODIUM_CRYPTO_SECRETBOX_NONCEBYTES),
                $key,
            );
            if (false !== $secret) {
                return $secret;
            }
        }

        return null;
    }

    /**
     * Takes a new key into use, after everything was sealed with it: the old one is kept beside it until the next change, the new one lies
     * ready before anything is sealed with it. Broken off anywhere, one of the two opens everything.
     *
     * @param \Closure(\Closure(string): string): void $sealAnew given a way to seal with the new key
     */
    public function changeKey(\Closure $sealAnew): void
    {
        $this->key();
        $next = self::read($this->keyFile.self::NEXT);
        if (null === $next) {
            $next = sodium_crypto_secretbox_keygen();
            $old = umask(0o077);
            file_put_contents($this->keyFile.self::NEXT, base64_encode($next));
            umask($old);
        }
        $sealAnew(static fn (string $secret): string => self::sealed($secret, $next));
        copy($this->keyFile, $this->keyFile.self::BEFORE);
        chmod($this->keyFile.self::BEFORE, 0o600);
        rename($this->keyFile.self::NEXT, $this->keyFile);
    }

    private static function sealed(string $secret, string $key): string
    {
        $nonce = random_bytes(\SODIUM_CRYPTO_SECRETBOX_NONCEBYTES);

        return base64_encode($nonce.sodium_crypto_secretbox($secret, $nonce, $key));
    }

    private static function read(string $file): ?string
    {
        $key = is_file($file) ? base64_decode((string) file_get_contents($file), true) : false;

        return false === $key || \SODIUM_CRYPTO_SECRETBOX_KEYBYTES !== \strlen($key) ? null : $key;
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

        return self::read($this->keyFile) ?? throw new \RuntimeException(\sprintf('The key file %s is damaged.', $this->keyFile));
    }
}
