<?php

declare(strict_types=1);

namespace Vorhut\Core\Lighting;

use Vorhut\Core\Net\Ipv4;

/** A universe of 512 slots of light data (ANSI E1.11), as it goes over a network (ANSI E1.31). */
final readonly class Universe
{
    public const SLOTS = 512;
    public const LEAST = 1;
    public const MOST = 63999;
    public const PORT = 5568;
    /** Full refreshes a second, at most. */
    public const REFRESHES = 44;
    /** Bytes of a full packet: UDP payload; with UDP, IP, Ethernet, preamble and gap. */
    public const PAYLOAD_BYTES = 638;
    public const WIRE_BYTES = 704;

    private function __construct(public int $number)
    {
    }

    public static function tryOf(int $number): ?self
    {
        return $number >= self::LEAST && $number <= self::MOST ? new self($number) : null;
    }

    /** The group that its packets go to (E1.31 §9.3.1). */
    public function group(): Ipv4
    {
        return Ipv4::fromNumber(0xEFFF0000 | $this->number);
    }

    /** Network load in Mbit/s of this many universes, all full and at the highest rate. */
    public static function mbps(int $universes, int $refreshes = self::REFRESHES): float
    {
        return $universes * self::WIRE_BYTES * 8 * $refreshes / 1e6;
    }
}
