<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire;

/** One-time passwords by the time (RFC 6238, with the HMAC-SHA-1 and the six digits of RFC 4226 §5.3), steps of 30 s from the epoch. */
final readonly class Totp
{
    public const STEP = 30;
    private const DIGITS = 6;
    /** Steps that a clock may be off, in each direction (RFC 6238 §5.2). */
    private const DRIFT = 1;
    private const BASE32 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

    private function __construct(private string $secret)
    {
    }

    /** @param string $secret bytes; 20 as RFC 4226 §4 recommends */
    public static function ofBytes(string $secret): self
    {
        return new self($secret);
    }

    /** @throws ParseError if it is not Base32 (RFC 4648 §6) */
    public static function fromString(string $text): self
    {
        $text = strtoupper(rtrim(str_replace(' ', '', $text), '='));
        $bits = $bytes = '';
        foreach (str_split($text) as $sign) {
            $value = strpos(self::BASE32, $sign);
            if (false === $value) {
                throw new ParseError('A secret of this kind has letters and the digits 2 to 7.');
            }
            $bits .= str_pad(decbin($value), 5, '0', \STR_PAD_LEFT);
        }
        foreach (str_split($bits, 8) as $one) {
            $bytes .= 8 === \strlen($one) ? \chr((int) bindec($one)) : '';
        }

        return new self($bytes);
    }

    /** The six digits of a moment, as Unix time. */
    public function at(int $time): string
    {
        return $this->ofStep(intdiv($time, self::STEP));
    }

    /**
     * The step of these digits, so that the caller accepts none twice; null if they belong to no step near this moment.
     *
     * @param int $after the last step that was taken
     */
    public function stepOf(string $digits, int $time, int $after = 0): ?int
    {
        $now = intdiv($time, self::STEP);
        for ($step = $now - self::DRIFT; $step <= $now + self::DRIFT; ++$step) {
            if ($step > $after && hash_equals($this->ofStep($step), $digits)) {
                return $step;
            }
        }

        return null;
    }

    /** Whether a step that was taken lies further ahead than a clock may be off: the clock has gone back since. */
    public static function isAhead(int $step, int $time): bool
    {
        return $step > intdiv($time, self::STEP) + self::DRIFT;
    }

    /** What an authenticator is told: the usual key URI, by hand or as a QR code. */
    public function uri(string $whose, string $where): string
    {
        return \sprintf('otpauth://totp/%s:%s?secret=%s&issuer=%1$s', rawurlencode($where), rawurlencode($whose), $this);
    }

    /** In Base32, without padding. */
    public function __toString(): string
    {
        $bits = $text = '';
        if ('' !== $this->secret) {
            foreach (str_split($this->secret) as $byte) {
                $bits .= str_pad(decbin(\ord($byte)), 8, '0', \STR_PAD_LEFT);
            }
        }
        if ('' !== $bits) {
            foreach (str_split($bits, 5) as $five) {
                $text .= self::BASE32[(int) bindec(str_pad($five, 5, '0'))];
            }
        }

        return $text;
    }

    private function ofStep(int $step): string
    {
        $hash = hash_hmac('sha1', pack('J', $step), $this->secret, true);
        $at = \ord($hash[19]) & 15;
        /** @var array{int} $cut */
        $cut = array_values((array) unpack('N', $hash, $at));

        return str_pad((string) (($cut[0] & 0x7FFFFFFF) % 10 ** self::DIGITS), self::DIGITS, '0', \STR_PAD_LEFT);
    }
}
