<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Net\Port;

/** A discovery method of a program: the packets it sends, their destination, and how far they get. */
final readonly class Method
{
    public const GROUP = 'group';
    public const BROADCAST = 'broadcast';
    public const LINK = 'link';
    public const UNICAST = 'unicast';
    public const NAME = 'name';

    /**
     * @param string    $reach   GROUP, BROADCAST, LINK, UNICAST or NAME: what carries it
     * @param bool      $isRouted whether a router may pass it on, where groups are routed
     * @param int       $ttl     with which it is sent by custom
     * @param bool      $answersByUnicast whether the answer is unicast to the sender, so that it needs a route there
     * @param string    $source  the standard that says so
     */
    private function __construct(
        public string $code,
        public string $name,
        public string $to,
        public ?Port $port,
        public string $reach,
        public bool $isRouted,
        public int $ttl,
        public string $source,
        public bool $answersByUnicast = false,
    ) {
    }

    /** @return array<string, self> by code */
    public static function all(): array
    {
        static $all = null;
        /** @var array<string, self>|null $all */
        $all ??= [
            'mdns' => new self('mdns', 'mDNS, DNS-SD', '224.0.0.251', Port::udp(5353), self::GROUP, false, 255, 'RFC 6762 §3'),
            'llmnr' => new self('llmnr', 'LLMNR', '224.0.0.252', Port::udp(5355), self::GROUP, false, 1, 'RFC 4795 §2.5', true),
            'ssdp' => new self('ssdp', 'SSDP', '239.255.255.250', Port::udp(1900), self::GROUP, true, 2, 'UPnP Device Architecture', true),
            'ws-discovery' => new self(
                'ws-discovery',
                'WS-Discovery',
                '239.255.255.250',
                Port::udp(3702),
                self::GROUP,
                true,
                1,
                'OASIS WS-Discovery 1.1 §2.4',
                true,
            ),
            'slp' => new self('slp', 'SLP', '239.255.255.253', Port::udp(427), self::GROUP, true, 8, 'RFC 2608 §6.1', true),
            'broadcast' => new self('broadcast', 'broadcast', '255.255.255.255', null, self::BROADCAST, false, 1, 'RFC 919, RFC 2644'),
            'lldp' => new self('lldp', 'LLDP', '01-80-C2-00-00-0E', null, self::LINK, false, 1, 'IEEE 802.1AB'),
            'range' => new self('range', 'each address of a range', '', null, self::UNICAST, true, 64, 'RFC 791'),
            'name' => new self('name', 'a name in DNS', '', Port::udp(53), self::NAME, true, 64, 'RFC 1035'),
        ];

        return $all;
    }
}
