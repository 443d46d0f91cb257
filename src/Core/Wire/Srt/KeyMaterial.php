<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Srt;

use Vorhut\Core\Wire\ParseError;

/**
 * The key of a stream, wrapped by a key from the passphrase (draft-sharabayko-srt-01 §3.2.2, §6.1): an end that can unwrap it has the same
 * passphrase.
 */
final readonly class KeyMaterial
{
    private const ROUNDS = 2048;
    private const SALT = 16;
    private const HEAD = 16;
    /** Version 1, key material, "HAI", the even key; AES in counter mode, live. */
    private const BEGINS = "\x12\x20\x29\x01\0\0\0\0\x02\0\x02\0\0\0";

    /** @param string $key of 16, 24 or 32 bytes */
    public static function wrap(string $passphrase, string $salt, string $key): string
    {
        return self::BEGINS.\chr(intdiv(self::SALT, 4)).\chr(intdiv(\strlen($key), 4)).$salt
            .KeyWrap::wrap(self::kek($passphrase, $salt, max(16, min(32, \strlen($key)))), $key);
    }

    /** The key in it; null where the passphrase is another. */
    public static function unwrap(string $bytes, string $passphrase): ?string
    {
        try {
            [$salt, $length, $wrapped] = self::parts($bytes);
        } catch (ParseError) {
            return null;
        }

        return KeyWrap::unwrap(self::kek($passphrase, $salt, $length), $wrapped);
    }

    /**
     * @return array{string, int<16, 32>, string} salt, length of the key in bytes, wrapped key
     *
     * @throws ParseError
     */
    private static function parts(string $bytes): array
    {
        if (\strlen($bytes) < self::HEAD + self::SALT || "\x12\x20\x29" !== substr($bytes, 0, 3)) {
            throw new ParseError('No key material.');
        }
        [$salt, $length] = [4 * \ord($bytes[14]), 4 * \ord($bytes[15])];
        if (self::SALT !== $salt || !\in_array($length, [16, 24, 32], true) || \strlen($bytes) < self::HEAD + $salt + $length + 8) {
            throw new ParseError('Key material of no such length.');
        }

        return [substr($bytes, self::HEAD, $salt), $length, substr($bytes, self::HEAD + $salt, $length + 8)];
    }

    /** @param int<16, 32> $length bytes */
    private static function kek(string $passphrase, string $salt, int $length): string
    {
        return hash_pbkdf2('sha1', $passphrase, substr($salt, -8), self::ROUNDS, $length, true);
    }
}
