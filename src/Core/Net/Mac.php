<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** A 48 bit hardware address (IEEE 802), held as twelve lower-case hexadecimal digits. */
final readonly class Mac implements \Stringable
{
    private function __construct(public string $digits)
    {
    }

    /**
     * Reads colons, hyphens, dots in fours, or bare digits; never a mixture, which is a sign of a reading error.
     *
     * @throws Malformed also for a group address, which no device has as its own
     */
    public static function fromString(string $text): self
    {
        $text = strtolower(trim($text));
        $shapes = '/^(?:[0-9a-f]{12}|[0-9a-f]{2}(?::[0-9a-f]{2}){5}|[0-9a-f]{2}(?:-[0-9a-f]{2}){5}|[0-9a-f]{4}(?:\.[0-9a-f]{4}){2})$/D';
        if (1 !== preg_match($shapes, $text)) {
            throw Malformed::because(
                '"{text}" is not a MAC: it needs twelve digits 0-9 a-f, bare or parted by : or - in pairs or by . in fours.',
                ['text' => $text],
            );
        }
        $mac = new self(str_replace([':', '-', '.'], '', $text));
        if (1 === ($mac->firstOctet() & 1)) {
            throw Malformed::because('"{text}" is a group address; no device has it as its own.', ['text' => $text]);
        }
        if ('000000000000' === $mac->digits) {
            throw new Malformed('A MAC of all zeros is a placeholder, not an address.');
        }

        return $mac;
    }

    public static function tryFromString(string $text): ?self
    {
        if ('' === trim($text)) {
            return null;
        }
        try {
            return self::fromString($text);
        } catch (Malformed) {
            return null;
        }
    }

    /** Set by software or a virtual machine, not by the maker (second bit of the first octet). */
    public function isLocallyAdministered(): bool
    {
        return 2 === ($this->firstOctet() & 2);
    }

    public function equals(self $other): bool
    {
        return $this->digits === $other->digits;
    }

    public function format(string $separator, int $group = 2): string
    {
        return implode($separator, str_split($this->digits, max(1, $group)));
    }

    public function __toString(): string
    {
        return strtoupper($this->format('-'));
    }

    private function firstOctet(): int
    {
        return (int) hexdec(substr($this->digits, 0, 2));
    }
}
