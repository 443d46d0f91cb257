<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Net\Subnet;

/** A router's interface on a segment. */
final readonly class RouterPort
{
    public Network $network;

    /**
     * @param bool      $proxyArp  it answers ARP for what it would forward elsewhere (RFC 1027)
     * @param bool      $multicast groups are routed from and to it
     * @param Ipv6|null $local6    that which holds on its own wire only, and which hosts take as their gateway (RFC 4861 §4.2)
     */
    private function __construct(
        public string $key,
        public string $router,
        public string $segment,
        public Ipv4 $address,
        public Mask $mask,
        public bool $proxyArp,
        public bool $multicast,
        public ?Ipv6 $address6,
        public ?Network6 $network6,
        public ?Ipv6 $local6,
    ) {
        $this->network = Network::around($address, $mask);
    }

    public static function fromRow(Row $row): self
    {
        [$address6, $network6] = '' === $row->text('address6') ? [null, null] : Network6::interface($row->text('address6'));

        return new self(
            $row->text('key'),
            $row->text('router'),
            $row->text('segment'),
            Ipv4::fromString($row->text('address')),
            Mask::fromString($row->text('mask')),
            $row->bool('proxyArp'),
            $row->bool('multicast'),
            $address6,
            $network6,
            Ipv6::tryFromString($row->text('local6')),
        );
    }

    /** Its address where packets of one version go, null where they do not. */
    public function addressOf(IpVersion $version): ?Address
    {
        return IpVersion::Six === $version ? $this->address6 : $this->address;
    }

    public function networkOf(IpVersion $version): ?Subnet
    {
        return IpVersion::Six === $version ? $this->network6 : $this->network;
    }
}
