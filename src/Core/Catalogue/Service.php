<?php

declare(strict_types=1);

namespace Vorhut\Core\Catalogue;

use Vorhut\Core\Net\Port;

/** Something a device of a kind answers to. */
final readonly class Service
{
    /**
     * @param Port        $port    its default port
     * @param string|null $follows the setting of the device that moves it to another port of the same transport
     */
    public function __construct(public string $name, public Port $port, public bool $ownSubnetOnly, public ?string $follows = null)
    {
    }

    /** @param string|null $number of a port; anything else leaves it unchanged */
    public function at(?string $number): self
    {
        $port = Port::tryFromString($number.'/'.$this->port->transport->value);

        return null === $port || $port->equals($this->port) ? $this : new self($this->name, $port, $this->ownSubnetOnly, $this->follows);
    }
}
