<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;
use Vorhut\Core\Plan\Facts;
use Vorhut\Core\Text\Message;

/** One interface on a wire, as it was culprit: its own address, mask and gateway decide what it does with a packet. */
final readonly class Host
{
    /**
     * @param string      $ref     `nics/KEY`, `routerPorts/KEY` or `outposts/SEGMENT`
     * @param string|null $gateway as culprit: null unknown, '' blank
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
    ) {
    }

    /** Where it believes to be. */
    public function network(): ?Network
    {
        return null !== $this->address && null !== $this->mask ? Network::around($this->address, $this->mask) : null;
    }

    public function gatewayAddress(): ?Ipv4
    {
        return Ipv4::tryFromString($this->gateway ?? '');
    }

    public function note(Facts $facts, string ...$fields): void
    {
        foreach ($fields as $field) {
            $facts->note($this->ref.':'.$field, match ($field) {
                'address' => null === $this->address ? null : (string) $this->address,
                'mask' => null === $this->mask ? null : (string) $this->mask,
                'gateway' => $this->gateway,
                default => $this->segment,
            });
        }
    }
}
