<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sacn;

use Vorhut\Core\Wire\ParseError;
use Vorhut\Core\Wire\Sanitizer;

/** One data packet of a universe (ANSI E1.31-2018 §4 to §7): its sender, its priority, the levels. */
final readonly class SacnPacket implements \Stringable
{
    public const PRIORITY = 100;
    public const PRIORITY_MOST = 200;
    private const IDENTIFIER = "ASC-E1.17\0\0\0";
    private const ROOT_DATA = 4;
    private const FRAME_DATA = 2;
    private const SET_PROPERTY = 2;
    private const NAME = 64;
    /** Octets before the levels, the start code among them. */
    private const HEAD = 126;
    private const PREVIEW = 0x80;
    private const ENDED = 0x40;

    /**
     * @param string $cid      sixteen octets unique to this sender
     * @param string $source   its name, as people gave it; at most 63 octets of UTF-8
     * @param int    $priority 0 to 200, the greater wins (§6.2.3)
     * @param string $levels   an octet for each slot, at most 512
     * @param bool   $isOver   it is the last that this sender says of the universe (§6.2.6)
     * @param bool   $isPreview it is for looking at, no lamp is to follow it
     */
    public function __construct(
        public string $cid,
        public string $source,
        public int $priority,
        public int $sequence,
        public int $universe,
        public string $levels,
        public bool $isOver = false,
        public bool $isPreview = false,
    ) {
        if (16 !== \strlen($cid) || \strlen($levels) > 512) {
            throw new \LogicException('A CID has sixteen octets, and a universe 512 slots.');
        }
    }

    /** @throws ParseError if it is not a data packet of this protocol, or contains a forbidden value */
    public static function fromString(string $bytes): self
    {
        $length = \strlen($bytes);
        if ($length < self::HEAD || $length > self::HEAD + 512) {
            throw new ParseError('No packet of light is of that length.');
        }
        /** @var array{preamble: int, postamble: int} $root */
        $root = unpack('npreamble/npostamble', $bytes);
        if (0x0010 !== $root['preamble'] || 0 !== $root['postamble'] || self::IDENTIFIER !== substr($bytes, 4, 12)) {
            throw new ParseError('This is not an sACN packet.');
        }
        $layers = [[16, 18, self::ROOT_DATA, 4], [38, 40, self::FRAME_DATA, 4], [115, 117, self::SET_PROPERTY, 1]];
        foreach ($layers as [$at, $vector, $wanted, $octets]) {
            $said = self::number($bytes, $at, 2);
            // Each layer says how long it is, to the end (§4).
            if (0x7000 !== ($said & 0xF000) || ($said & 0x0FFF) !== $length - $at || $wanted !== self::number($bytes, $vector, $octets)) {
                throw new ParseError('Its layers do not fit into one another.');
            }
        }
        $count = self::number($bytes, 123, 2);
        if (0xA1 !== self::number($bytes, 118, 1) || 0 !== self::number($bytes, 119, 2) || 1 !== self::number($bytes, 121, 2)
            || $count !== $length - self::HEAD + 1) {
            throw new ParseError('Its slots are not counted as they are.');
        }
        $priority = self::number($bytes, 108, 1);
        $universe = self::number($bytes, 113, 2);
        if ($priority > self::PRIORITY_MOST || 0 !== self::number($bytes, 125, 1)) {
            throw new ParseError('This is not a packet of levels that a receiver could follow.');
        }
        $options = self::number($bytes, 112, 1);

        return new self(
            substr($bytes, 22, 16),
            Sanitizer::name(explode("\0", substr($bytes, 44, self::NAME), 2)[0]),
            $priority,
            self::number($bytes, 111, 1),
            $universe,
            substr($bytes, self::HEAD),
            0 !== ($options & self::ENDED),
            0 !== ($options & self::PREVIEW),
        );
    }

    public function __toString(): string
    {
        $property = pack('CCnnn', self::SET_PROPERTY, 0xA1, 0, 1, 1 + \strlen($this->levels))."\0".$this->levels;
        $name = str_pad(mb_strcut($this->source, 0, self::NAME - 1, 'UTF-8'), self::NAME, "\0");
        $options = ($this->isPreview ? self::PREVIEW : 0) | ($this->isOver ? self::ENDED : 0);
        $frame = pack('N', self::FRAME_DATA).$name.pack('CnCCn', $this->priority, 0, $this->sequence & 0xFF, $options, $this->universe)
            .self::layer($property);

        return pack('nn', 0x0010, 0).self::IDENTIFIER.self::layer(pack('N', self::ROOT_DATA).$this->cid.self::layer($frame));
    }

    private static function layer(string $body): string
    {
        return pack('n', 0x7000 | (2 + \strlen($body))).$body;
    }

    private static function number(string $bytes, int $at, int $octets): int
    {
        $number = 0;
        for ($i = 0; $i < $octets; ++$i) {
            $number = $number << 8 | \ord($bytes[$at + $i]);
        }

        return $number;
    }
}
