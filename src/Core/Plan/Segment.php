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
    /**
     * @param bool                                 $routed   false where the administrator says that no router is on it
     * @param list<Range>                          $pools    what DHCP gives out
     * @param bool                                 $dhcp     false where somebody says that nobody serves DHCP here
     * @param bool|null                            $snooping whether switches watch who wants which group; null where nobody said
     * @param bool|null                            $querier  whether anybody asks who still wants them
     * @param list<array{range: Range, for: string}> $reserved kept free, with a reason
     * @param list<array{range: Range, for: string}> $blocks   the addresses of a kind (its code)
     * @param list<Range>                          $fetchFrom from where its phones fetch, where that is not from a network of the job
     */
    private function __construct(
        public string $key,
        public string $name,
        public ?int $vlan,
        public Network $network,
        public ?Ipv4 $gateway,
        public bool $routed,
        public ?Ipv4 $dns,
        public array $pools,
        public array $reserved,
        public array $blocks,
        public ?Ipv4 $outpost,
        public bool $voice,
        public int $pattern,
        public array $fetchFrom,
        public bool $dhcp,
        public bool $wireless,
        public ?bool $snooping,
        public ?bool $querier,
        public ?Network6 $network6,
        public ?Ipv6 $gateway6,
    ) {
    }

    public static function fromRow(Row $row): self
    {
        $labelled = static fn (string $field): array => array_map(
            static fn (Row $item): array => ['range' => Range::fromString($item->text('range')), 'for' => $item->text('for')],
            $row->rows($field),
        );

        return new self(
            $row->text('key'),
            $row->text('name'),
            $row->intOrNull('vlan'),
            Network::fromString($row->text('network')),
            Ipv4::tryFromString($row->text('gateway')),
            FieldType::NO_GATEWAY !== $row->text('gateway'),
            Ipv4::tryFromString($row->text('dns')),
            array_map(Range::fromString(...), $row->texts('pools')),
            $labelled('reserved'),
            $labelled('blocks'),
            Ipv4::tryFromString($row->text('outpost')),
            $row->bool('voice'),
            $row->int('pattern'),
            array_map(Range::fromString(...), $row->texts('fetchFrom')),
            'none' !== $row->text('dhcp'),
            $row->bool('wireless'),
            self::optionalBool($row->text('snooping')),
            self::optionalBool($row->text('querier')),
            Network6::tryFromString($row->text('network6')),
            Ipv6::tryFromString($row->text('gateway6')),
        );
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

    /** What the devices on it are told: null where nobody said, the empty text where it is blank on purpose. */
    public function dhcpValue(string $field): ?string
    {
        return match ($field) {
            'mask' => (string) $this->network->mask,
            'gateway' => $this->routed ? ($this->gateway?->__toString()) : '',
            'dns' => $this->dns?->__toString(),
            'vlan' => null === $this->vlan ? null : (string) $this->vlan,
            default => null,
        };
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
}
