<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\Dial;
use Vorhut\Socket\AudioLine;

/** Where sound of calls is taken at a stand-in: the first free pair of ports, media on the even one, reports on the next (RFC 3550 §11). */
final class MediaPorts
{
    private const LAST = Dial::MEDIA_PORT + 998;

    /** @param (\Closure(string): void)|null $pressed hears of keys that the other end presses */
    public static function line(
        SimulatedNetwork $network,
        string $device,
        Ipv4 $address,
        int $hertz,
        ?\Closure $pressed = null,
    ): AudioLine {
        for ($port = Dial::MEDIA_PORT; $port <= self::LAST; $port += 2) {
            $media = null;
            try {
                $media = new GatedDatagrams($network, $device, $address, $port);
                $control = new GatedDatagrams($network, $device, $address, $port + 1);
            } catch (\Throwable) {
                $media?->close();
                continue;
            }

            return new AudioLine($media, $control, $hertz, (crc32($device) + $port) & 0x7FFFFFFF, $pressed);
        }
        throw new \RuntimeException('No media port is free.');
    }

    /** One for a fax, of the same range: what a rule lets through for sound it lets through for that. */
    public static function one(SimulatedNetwork $network, string $device, Ipv4 $address): GatedDatagrams
    {
        for ($port = Dial::MEDIA_PORT; $port <= self::LAST; $port += 2) {
            try {
                return new GatedDatagrams($network, $device, $address, $port);
            } catch (\Throwable) {
                continue;
            }
        }
        throw new \RuntimeException('No media port is free.');
    }
}
