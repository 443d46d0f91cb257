<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Net\Range;

/** One IP network on one wire or VLAN. */
final readonly class Segment
{
    public string $key;
    public string $name;
    /** @var int|null null if it is not known, or the network is untagged */
    public ?int $vlan;
    public bool $isVlanKnown;
    public Network $network;
    public ?Ipv4 $gateway;
    /** False where the administrator says that no router is on it. */
    public bool $routed;
    /** @var Ipv4|null of its own, instead of that of the job */
    public ?Ipv4 $dns;
    /** False if its devices use no DNS server at all. */
    public bool $hasDns;
    /** @var list<Range> the pools that DHCP leases from */
    public array $pools;
    /** @var list<array{range: Range, for: string}> kept free, with a reason */
    public array $reserved;
    /** @var list<array{range: Range, for: string}> the addresses of a kind (its code) */
    public array $blocks;
    public ?Ipv4 $outpost;
    public bool $voice;
    public int $pattern;
    /** @var list<Range> from where its phones fetch, where that is not from a network of the job */
    public array $fetchFrom;
    /** False if the answer is that no server provides DHCP here. */
    public bool $dhcp;
    public bool $wireless;
    /** @var bool|null whether the switches do IGMP snooping; null if not set */
    public ?bool $snooping;
    /** @var bool|null whether anybody asks who still wants them */
    public ?bool $querier;
    public ?Network6 $network6;
    public ?Ipv6 $gateway6;

    /** The patterns of segments are used in turn. */
    private const PATTERNS = 12;

    private function __construct(Row $row)
    {
        $labelled = static fn (string $field): array => array_map(
            static fn (Row $item): array => ['range' => Range::fromString($item->text('range')), 'for' => $item->text('for')],
            $row->rows($field),
        );
        $this->key = $row->text('key');
        $this->name = $row->text('name');
        $vlan = $row->intOrNull('vlan');
        $this->vlan = 0 === $vlan ? null : $vlan;
        $this->isVlanKnown = null !== $vlan;
        $this->network = Network::fromString($row->text('network'));
        $this->gateway = Ipv4::tryFromString($row->text('gateway'));
        $this->routed = FieldType::NONE !== $row->text('gateway');
        $this->dns = Ipv4::tryFromString($row->text('dns'));
        $this->hasDns = FieldType::NONE !== $row->text('dns');
        $this->pools = array_map(Range::fromString(...), $row->texts('pools'));
        $this->reserved = $labelled('reserved');
        $this->blocks = $labelled('blocks');
        $this->outpost = Ipv4::tryFromString($row->text('outpost'));
        $this->voice = $row->bool('voice');
        $this->pattern = $row->int('pattern');
        $this->fetchFrom = array_map(Range::fromString(...), $row->texts('fetchFrom'));
        $this->dhcp = 'none' !== $row->text('dhcp');
        $this->wireless = $row->bool('wireless');
        $this->snooping = self::optionalBool($row->text('snooping'));
        $this->querier = self::optionalBool($row->text('querier'));
        $this->network6 = Network6::tryFromString($row->text('network6'));
        $this->gateway6 = Ipv6::tryFromString($row->text('gateway6'));
    }

    public static function fromRow(Row $row): self
    {
        return new self($row);
    }

    private static function optionalBool(string $word): ?bool
    {
        return '' === $word ? null : 'yes' === $word;
    }

    /** Devices here give themselves their address (RFC 3927): none is handed out. */
    public function isSelfAssigned(): bool
    {
        return $this->network->address->isLinkLocal();
    }

    /** The settings for devices in it: null if not set, an empty text if blank on purpose. */
    public function dhcpValue(string $field): ?string
    {
        return match ($field) {
            'mask' => (string) $this->network->mask,
            'gateway' => $this->routed ? ($this->gateway?->__toString()) : '',
            'dns' => $this->hasDns ? $this->dns?->__toString() : '',
            'vlan' => null === $this->vlan ? null : (string) $this->vlan,
            default => null,
        };
    }

    /** The DNS server of its devices: its own, or that of the job. */
    public function dnsServer(Row $job): ?Ipv4
    {
        return $this->hasDns ? $this->dns ?? Ipv4::tryFromString($job->text('dns')) : null;
    }

    public function poolWith(Ipv4 $address): ?Range
    {
        foreach ($this->pools as $pool) {
            if ($pool->contains($address)) {
                return $pool;
            }
        }

        return null;
    }

    /** @param int $count of the segments that precede a new one */
    public static function nextPattern(int $count): int
    {
        return $count % self::PATTERNS;
    }
}
