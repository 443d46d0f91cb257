<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Net\Network;

/** One state in which a device may come to the bench: as new, after a reset, as the last job left it. */
final readonly class FactoryState
{
    /**
     * @param string    $when  its name, e.g. new, reset
     * @param Ipv4|null $address the fixed one; of DhcpThenFixed the one it falls back to
     * @param int       $after seconds until it falls back
     */
    public function __construct(
        public string $when,
        public FactoryMode $mode,
        public ?Ipv4 $address,
        public ?Mask $mask,
        public int $after = 0,
    ) {
    }

    public function network(): ?Network
    {
        return null !== $this->address && null !== $this->mask ? Network::around($this->address, $this->mask) : null;
    }

    /** The same, but at what the label of this very device says. A label with an address speaks of a fixed one. */
    public function at(?Ipv4 $address, ?Mask $mask): self
    {
        if (null === $address && null === $mask) {
            return $this;
        }

        return new self(
            $this->when,
            null === $address || $this->mode->hasFixedAddress() ? $this->mode : FactoryMode::Fixed,
            $address ?? $this->address,
            $mask ?? $this->mask ?? Mask::ofPrefix(24),
            $this->after,
        );
    }
}
