<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sdp;

use Vorhut\Core\Net\Ipv4;

/** A session description with one fax and no sound, as a call is changed to when a fax machine answers (ITU-T T.38, Annex D). */
final readonly class FaxSession implements \Stringable
{
    /** Of V.17, in bit/s. */
    public const RATE = 14_400;
    /** What one UDPTL datagram may hold, in octets. */
    public const LARGEST = 400;

    public function __construct(public Ipv4 $address, public int $port, public int $rate = self::RATE, public int $version = 2)
    {
    }

    /** Null if there is no fax in it, or it is refused: with port zero (RFC 3264 §6). */
    public static function tryFromString(string $text): ?self
    {
        $address = $port = null;
        $rate = self::RATE;
        $inFax = false;
        foreach (preg_split('/\r?\n/', $text) ?: [] as $line) {
            if (str_starts_with($line, 'm=')) {
                $inFax = 1 === preg_match('#^m=image ([0-9]{1,5}) udptl t38$#iD', $line, $found);
                $port = $inFax ? (int) $found[1] : $port;
            } elseif ($inFax && 1 === preg_match('/^a=T38MaxBitRate:([0-9]{1,6})$/iD', $line, $found)) {
                $rate = (int) $found[1];
            } elseif (1 === preg_match('/^c=IN IP4 ([0-9.]+)/', $line, $found) && ($inFax || null === $address)) {
                $address = Ipv4::tryFromString($found[1]);
            }
        }

        return null === $address || null === $port || $port < 1 || $port > 65535 ? null : new self($address, $port, $rate);
    }

    public function __toString(): string
    {
        return "v=0\r\no=- 1 $this->version IN IP4 $this->address\r\ns=-\r\nc=IN IP4 $this->address\r\nt=0 0\r\n"
            ."m=image $this->port udptl t38\r\na=T38FaxVersion:0\r\na=T38MaxBitRate:$this->rate\r\n"
            ."a=T38FaxRateManagement:transferredTCF\r\na=T38FaxMaxDatagram:".self::LARGEST."\r\na=T38FaxUdpEC:t38UDPRedundancy\r\n";
    }
}
