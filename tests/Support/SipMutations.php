<?php

declare(strict_types=1);

namespace Vorhut\Tests\Support;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** Messages that were right once: bytes flipped, cut, doubled, headers repeated, numbers out of all bounds, in the manner of RFC 4475. */
final class SipMutations
{
    private const WORDS = ["\r\n", "\0", '%00', ';', '<', '>', '"', '=', ':', '@', 'sip:', ' ', "\xFF\xFE", '4294967296', '-1',
        '99999999999999999999', 'INVITE', 'Via: SIP/2.0/UDP 127.0.0.1', 'Contact: *', 'Content-Length: 999999', 'Require: x', ';lr',
        ';branch=z9hG4bK', ';rport', ';tag=', '\\', '%s', '{', 'é', "\u{202E}"];

    private readonly Randomizer $chance;

    /** @param non-empty-list<string> $right */
    public function __construct(private readonly array $right, int $seed)
    {
        $this->chance = new Randomizer(new Xoshiro256StarStar($seed));
    }

    public function next(): string
    {
        $bytes = $this->right[$this->chance->getInt(0, \count($this->right) - 1)];
        // Another transaction each, or all but the first would only be repeats of it.
        $bytes = str_replace('#', bin2hex($this->chance->getBytes(5)), $bytes);
        for ($n = $this->chance->getInt(0, 4); $n > 0; --$n) {
            $bytes = $this->slip($bytes);
        }

        return substr($bytes, 0, 60_000);
    }

    private function slip(string $bytes): string
    {
        $at = $this->chance->getInt(0, max(0, \strlen($bytes) - 1));
        $length = $this->chance->getInt(1, 40);

        return match ($this->chance->getInt(0, 8)) {
            0 => substr_replace($bytes, \chr($this->chance->getInt(0, 255)), $at, 1),
            1 => substr($bytes, 0, $at),
            2 => substr_replace($bytes, '', $at, $length),
            3 => substr_replace($bytes, substr($bytes, $at, $length), $at, 0),
            4, 5 => substr_replace($bytes, self::WORDS[$this->chance->getInt(0, \count(self::WORDS) - 1)], $at, 0),
            6 => (string) preg_replace_callback('/[0-9]+/', fn (): string => (string) $this->chance->getInt(0, \PHP_INT_MAX), $bytes, 1),
            7 => $this->lines($bytes),
            default => str_replace("\r\n", ["\n", "\r\n ", "\r\n\t", "\r\n"][$this->chance->getInt(0, 3)], $bytes),
        };
    }

    private function lines(string $bytes): string
    {
        $lines = explode("\r\n", $bytes);
        $one = $this->chance->getInt(0, \count($lines) - 1);
        $other = $this->chance->getInt(0, \count($lines) - 1);
        [$lines[$one], $lines[$other]] = [$lines[$other], $lines[$one]];
        array_splice($lines, $one, 0, array_fill(0, $this->chance->getInt(0, 30), $lines[$other]));

        return implode("\r\n", $lines);
    }
}
