<?php

declare(strict_types=1);

namespace Vorhut\Core\Net;

/** A network mask, held as its prefix length (RFC 4632). Only contiguous masks exist here. */
final readonly class Mask implements \Stringable
{
    /** @param int<0, 32> $prefix */
    private function __construct(public int $prefix)
    {
    }

    public static function ofPrefix(int $prefix): self
    {
        if ($prefix < 0 || $prefix > 32) {
            throw Malformed::because('/{prefix} is not a prefix length: it runs from /0 to /32.', ['prefix' => $prefix]);
        }

        return new self($prefix);
    }

    /**
     * Reads "24", "/24" or "255.255.255.0".
     *
     * @throws Malformed
     */
    public static function fromString(string $text): self
    {
        $text = trim($text);
        if ('' === $text) {
            throw new Malformed('A mask is missing.');
        }
        if (1 === preg_match('#^/?([0-9]{1,2})$#D', $text, $found)) {
            return self::ofPrefix((int) $found[1]);
        }
        if (!str_contains($text, '.')) {
            throw Malformed::because('"{text}" is not a mask: write /24 or 255.255.255.0.', ['text' => $text]);
        }
        $bits = Ipv4::fromString($text)->number;
        $hosts = ~$bits & 0xFFFFFFFF;
        if (0 !== ($hosts & ($hosts + 1))) {
            throw Malformed::because(
                '"{text}" is not a mask: its ones are not contiguous (a mask is ones, then zeros).',
                ['text' => $text],
            );
        }

        return self::ofPrefix(32 - \strlen(ltrim(decbin($hosts), '0')));
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

    /** The mask as a number, ones first. */
    public function bits(): int
    {
        return 0xFFFFFFFF << (32 - $this->prefix) & 0xFFFFFFFF;
    }

    public function toDotted(): string
    {
        return (string) Ipv4::fromNumber($this->bits());
    }

    public function __toString(): string
    {
        return '/'.$this->prefix;
    }
}
