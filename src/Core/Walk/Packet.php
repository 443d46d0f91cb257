<?php

declare(strict_types=1);

namespace Vorhut\Core\Walk;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Net\Transport;

/** What goes over the wire: who to whom, by what. A router that translates makes another of it. */
final readonly class Packet implements \Stringable
{
    public function __construct(
        public Ipv4 $source,
        public Ipv4 $destination,
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

    public function from(Ipv4 $source, int $port): self
    {
        return new self($source, $this->destination, $this->transport, $port, $this->port);
    }

    public function to(Ipv4 $destination, int $port): self
    {
        return new self($this->source, $destination, $this->transport, $this->sourcePort, $port);
    }

    public function port(): Port
    {
        return Port::of($this->transport, $this->port);
    }

    public function equals(self $other): bool
    {
        return $this == $other;
    }

    public function __toString(): string
    {
        return "$this->source:$this->sourcePort > $this->destination:$this->port/{$this->transport->value}";
    }
}
