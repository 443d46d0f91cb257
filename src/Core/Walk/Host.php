<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One interface on a wire, as it was told: its own address, mask and gateway decide what it does with a packet. */
final readonly class Host
{
    /** Where it believes to be. */
    public ?Network $network;
    public ?Ipv4 $gatewayAddress;
    /** @var array<string, string> field → the fact that it is so, in words that never change while the host does not */
    private array $facts;

    /**
     * @param string      $ref     `nics/KEY`, `routerPorts/KEY` or `outposts/SEGMENT`
     * @param string|null $gateway   as told: null unknown, '' blank
     * @param bool        $isFurther one that the port holds beside its first
     */
    public function __construct(
        public string $ref,
        public string|Message $label,
        public ?string $device,
        public string $segment,
        public ?Ipv4 $address,
        public ?Mask $mask,
        public ?string $gateway,
        public bool $forwards = false,
        public bool $isFurther = false,
    ) {
        $this->network = null !== $address && null !== $mask ? Network::around($address, $mask) : null;
        $this->gatewayAddress = null === $gateway || '' === $gateway ? null : Ipv4::tryFromString($gateway);
        $this->facts = [
            'address' => $ref.':address='.($address ?? '?'),
            'mask' => $ref.':mask='.($mask ?? '?'),
            'gateway' => $ref.':gateway='.($gateway ?? '?'),
            'segment' => $ref.':segment='.$segment,
        ];
    }

    /** The same port with another of its addresses. */
    public function also(Ipv4 $address, Mask $mask): self
    {
        return new self($this->ref, $this->label, $this->device, $this->segment, $address, $mask, $this->gateway, false, true);
    }

    /** @param 'address'|'mask'|'gateway'|'segment' ...$fields */
    public function note(Facts $facts, string ...$fields): void
    {
        foreach ($fields as $field) {
            $facts->add($this->facts[$field]);
        }
    }
}
