<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

/** What a host, a link or a router does with a packet: it arrives, a router takes it on, or it goes no further. */
final readonly class Decision
{
    /**
     * @param Packet|null $packet  null where it goes no further
     * @param string|null $router  key of the router that has it now; null where it arrived
     * @param Host|null   $ingress the interface on which that router received it; null for packets from the router itself
     */
    private function __construct(public ?Packet $packet, public ?string $router = null, public ?Host $ingress = null)
    {
    }

    public static function arrives(Packet $packet): self
    {
        return new self($packet);
    }

    public static function stops(): self
    {
        return new self(null);
    }

    public static function goesTo(Host $ingress, Packet $packet): self
    {
        return new self($packet, (string) $ingress->device, $ingress);
    }

    public static function isSentBy(Host $router, Packet $packet): self
    {
        return new self($packet, (string) $router->device);
    }
}
