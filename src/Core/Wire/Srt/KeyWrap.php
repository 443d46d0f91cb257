<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Srt;

/** A key wrapped by another with AES (RFC 3394). */
final readonly class KeyWrap
{
    private const CHECK = "\xA6\xA6\xA6\xA6\xA6\xA6\xA6\xA6";
    private const ROUNDS = 5;

    /** @param string $key whole blocks of 8 bytes, two at least */
    public static function wrap(string $kek, string $key): string
    {
        $blocks = str_split($key, 8);
        $check = self::CHECK;
        $count = \count($blocks);
        for ($round = 0; $round <= self::ROUNDS; ++$round) {
            foreach ($blocks as $i => $block) {
                $sealed = self::cipher($kek, $check.$block, true);
                $check = substr($sealed, 0, 8) ^ pack('J', $count * $round + $i + 1);
                $blocks[$i] = substr($sealed, 8);
            }
        }

        return $check.implode('', $blocks);
    }

    /** Null where it was wrapped by another key. */
    public static function unwrap(string $kek, string $wrapped): ?string
    {
        if (\strlen($wrapped) < 24 || 0 !== \strlen($wrapped) % 8) {
            return null;
        }
        $blocks = str_split($wrapped, 8);
        $check = array_shift($blocks);
        $count = \count($blocks);
        for ($round = self::ROUNDS; $round >= 0; --$round) {
            for ($i = $count - 1; $i >= 0; --$i) {
                $open = self::cipher($kek, ($check ^ pack('J', $count * $round + $i + 1)).$blocks[$i], false);
                $check = substr($open, 0, 8);
                $blocks[$i] = substr($open, 8);
            }
        }

        return hash_equals(self::CHECK, $check) ? implode('', $blocks) : null;
    }

    private static function cipher(string $kek, string $block, bool $seal): string
    {
        $name = \sprintf('aes-%d-ecb', 8 * \strlen($kek));
        $options = \OPENSSL_RAW_DATA | \OPENSSL_ZERO_PADDING;
        $result = $seal ? openssl_encrypt($block, $name, $kek, $options) : openssl_decrypt($block, $name, $kek, $options);

        return false === $result ? throw new \LogicException('A key to wrap with has 16, 24 or 32 bytes.') : $result;
    }
}
