<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Ipv6;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;

/** A packet: source, destination, port. A router with translation makes another one from it. */
final readonly class Packet implements \Stringable
{
    public function __construct(
        public Address $source,
        public Address $destination,
        public Transport $transport,
        public int $sourcePort,
        public int $port,
    ) {
    }

    /** What the one who gets it sends back. */
    public function answer(): self
    {
        return new self($this->destination, $this->source, $this->transport, $this->port, $this->sourcePort);
    }

    public function from(Address $source, int $port): self
    {
        return new self($source, $this->destination, $this->transport, $port, $this->port);
    }

    public function to(Address $destination, int $port): self
    {
        return new self($this->source, $destination, $this->transport, $this->sourcePort, $port);
    }

    public function port(): Port
    {
        return Port::of($this->transport, $this->port);
    }

    public function equals(self $other): bool
    {
        return $this->source->equals($other->source) && $this->destination->equals($other->destination)
            && [$this->transport, $this->sourcePort, $this->port] === [$other->transport, $other->sourcePort, $other->port];
    }

    public function __toString(): string
    {
        $at = static fn (Address $address, int $port): string => ($address instanceof Ipv6 ? "[$address]" : (string) $address).':'.$port;

        return $at($this->source, $this->sourcePort).' > '.$at($this->destination, $this->port)."/{$this->transport->value}";
    }
}
