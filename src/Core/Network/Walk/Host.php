<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Net\Network6;
use Vorhut\Core\Net\Subnet;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One interface on a wire, as it was told: its own address, mask and gateway decide what it does with a packet. */
final readonly class Host
{
    /** Where it believes to be. */
    public ?Subnet $network;
    public ?Address $gatewayAddress;
    public Spot $spot;
    /** @var array<string, string> field → the fact that it is so, in words that never change while the host does not */
    private array $facts;

    /**
     * @param string             $ref     `nics/KEY`, `routerPorts/KEY` or `outposts/SEGMENT`
     * @param Mask|Network6|null $mask      where it believes to be: of IPv6 the network itself
     * @param string|null        $gateway   as told: null unknown, '' blank
     * @param bool               $isFurther one that the port holds beside its first
     */
    public function __construct(
        public string $ref,
        public string|Message $label,
        public ?string $device,
        public string $segment,
        public ?Address $address,
        public Mask|Network6|null $mask,
        public ?string $gateway,
        public bool $forwards = false,
        public bool $isFurther = false,
    ) {
        $this->network = match (true) {
            $mask instanceof Network6 => $mask,
            $address instanceof Ipv4 && null !== $mask => Network::around($address, $mask),
            default => null,
        };
        $this->gatewayAddress = null === $gateway ? null : Ipv4::tryFromString($gateway) ?? Ipv6::tryFromString($gateway);
        $this->spot = new Spot($ref, $label, $segment);
        $six = $address instanceof Ipv6 ? '6' : '';
        $this->facts = [
            'address' => $ref.':address'.$six.'='.($address ?? '?'),
            'mask' => $ref.':mask'.$six.'='.($mask ?? '?'),
            'gateway' => $ref.':gateway'.$six.'='.($gateway ?? '?'),
            'segment' => $ref.':segment='.$segment,
        ];
    }

    /** The same port with another of its addresses. */
    public function also(Address $address, Mask|Network6|null $mask): self
    {
        return new self(
            $this->ref,
            $this->label,
            $this->device,
            $this->segment,
            $address,
            $mask,
            $this->gateway,
            $this->forwards,
            true,
        );
    }

    /** Its address where it is one of IPv4: what devices here are given. */
    public function ipv4(): ?Ipv4
    {
        return $this->address instanceof Ipv4 ? $this->address : null;
    }

    /** @param 'address'|'mask'|'gateway'|'segment' ...$fields */
    public function note(Facts $facts, string ...$fields): void
    {
        foreach ($fields as $field) {
            $facts->add($this->facts[$field]);
        }
    }
}
