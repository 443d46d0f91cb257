<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Rtp;

/**
 * The sender, by a permanent name (RFC 3550 §6.5.1): sent with every report, because a report without it is not a valid RTCP packet (§6.1).
 */
final readonly class SourceDescription implements \Stringable
{
    private const TYPE = 202;
    private const CNAME = 1;

    /** @param string $name `user@host`, at most 255 octets */
    public function __construct(public int $source, public string $name)
    {
    }

    public function __toString(): string
    {
        $name = substr($this->name, 0, 255);
        $chunk = pack('NCC', $this->source, self::CNAME, \strlen($name)).$name;
        // The list of items ends with a null octet, and the chunk at a boundary of four.
        $chunk .= str_repeat("\0", 4 - \strlen($chunk) % 4);

        return pack('CCn', 0x81, self::TYPE, intdiv(\strlen($chunk), 4)).$chunk;
    }
}
