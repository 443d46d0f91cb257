<?php

declare(strict_types=1);

namespace Vorhut\Secrets;

use Vorhut\Entity\Credential;

/**
 * Seals and opens secrets (sodium secretbox). The key is in a file outside the database; a copy of the database without it reveals nothing.
 */
final readonly class Secrets
{
    /** Without 0 O 1 l I, because it may have to be typed. */
    private const ALPHABET = 'abcdefghijkmnpqrstuvwxyzABCDEFGHJKLMNPQRSTUVWXYZ23456789';

    /** Next to the key; opens secrets sealed with the previous one. */
    public const NEXT = '.next';
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
        return $this->key()->seal($secret);
    }

    public function open(?Credential $credential): ?string
    {
        return $this->openSealed($credential?->sealed);
    }

    public function openSealed(?string $sealed): ?string
    {
        // While the key is being changed, and for secrets sealed in that very moment, the other one opens it.
        return $this->key()->open($sealed)
            ?? SealingKey::fromFile($this->keyFile.self::NEXT)?->open($sealed)
            ?? SealingKey::fromFile($this->keyFile.self::BEFORE)?->open($sealed);
    }

    /**
     * Activates a new key after everything was sealed with it: the old one is kept next to it until the next change, the new one is written
     * before anything is sealed with it. Interrupted at any point, one of the two opens everything.
     *
     * @param \Closure(\Closure(string): string): void $sealAnew given a way to seal with the new key
     */
    public function changeKey(\Closure $sealAnew): void
    {
        $this->key();
        $file = $this->keyFile.self::NEXT;
        if (null === SealingKey::fromFile($file)) {
            $old = umask(0o077);
            file_put_contents($file, base64_encode(sodium_crypto_secretbox_keygen()));
            umask($old);
        }
        $next = SealingKey::fromFile($file) ?? throw new \RuntimeException(\sprintf('The key file %s cannot be written.', $file));
        $sealAnew($next->seal(...));
        copy($this->keyFile, $this->keyFile.self::BEFORE);
        chmod($this->keyFile.self::BEFORE, 0o600);
        rename($this->keyFile.self::NEXT, $this->keyFile);
    }

    /** The key of this house, made where there is none. */
    public function key(): SealingKey
    {
        if (!is_file($this->keyFile)) {
            $old = umask(0o077);
            @mkdir(\dirname($this->keyFile), 0o700, true);
            // A second process must not overwrite the key of the first.
            $file = @fopen($this->keyFile, 'x');
            if (false !== $file) {
                fwrite($file, base64_encode(sodium_crypto_secretbox_keygen()));
                fclose($file);
            }
            umask($old);
        }

        return SealingKey::fromFile($this->keyFile) ?? throw new \RuntimeException(\sprintf('The key file %s is damaged.', $this->keyFile));
    }
}
