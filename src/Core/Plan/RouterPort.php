<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** A router's interface on a segment. */
final readonly class RouterPort
{
    public Network $network;

    /**
     * @param bool $proxyArp  it answers ARP for what it would forward elsewhere (RFC 1027)
     * @param bool $multicast groups are routed from and to it
     */
    private function __construct(
        public string $key,
        public string $router,
        public string $segment,
        public Ipv4 $address,
        public Mask $mask,
        public bool $proxyArp,
        public bool $multicast,
    ) {
        $this->network = Network::around($address, $mask);
    }

    public static function fromRow(Row $row): self
    {
        return new self(
            $row->text('key'),
            $row->text('router'),
            $row->text('segment'),
            Ipv4::fromString($row->text('address')),
            Mask::fromString($row->text('mask')),
            $row->bool('proxyArp'),
            $row->bool('multicast'),
        );
    }
}
