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

    public string $key;
    public string $router;
    public string $segment;
    public Ipv4 $address;
    public Mask $mask;
    /** It answers ARP for what it would forward elsewhere (RFC 1027). */
    public bool $proxyArp;
    /** Groups are routed from and to it. */
    public bool $multicast;
    public ?Ipv6 $address6;
    public ?Network6 $network6;
    /** @var Ipv6|null that which holds on its own wire only, and which hosts take as their gateway (RFC 4861 §4.2) */
    public ?Ipv6 $local6;

    private function __construct(Row $row)
    {
        [$address6, $network6] = '' === $row->text('address6') ? [null, null] : Network6::interface($row->text('address6'));
        $this->key = $row->text('key');
        $this->router = $row->text('router');
        $this->segment = $row->text('segment');
        $this->address = Ipv4::fromString($row->text('address'));
        $this->mask = Mask::fromString($row->text('mask'));
        $this->proxyArp = $row->bool('proxyArp');
        $this->multicast = $row->bool('multicast');
        $this->address6 = $address6;
        $this->network6 = $network6;
        $this->local6 = Ipv6::tryFromString($row->text('local6'));
        $this->network = Network::around($this->address, $this->mask);
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
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
