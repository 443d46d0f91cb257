<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Voice\Dial;
use Vorhut\Socket\Background;
use Vorhut\Socket\Datagrams;
use Vorhut\Socket\Inbox;
use Vorhut\Socket\LoopbackDatagrams;

/**
 * The UDP socket of a stand-in: it sends, and receives from outside the lab, only where the simulated network delivers. To an outside
 * address it sends as a router translates it: by a second socket, at the translated address (RFC 3022).
 */
final class GatedDatagrams implements Datagrams
{
    private LoopbackDatagrams $socket;
    private readonly bool $isMedia;
    private int $sent = 0;
    private readonly Inbox $inbox;
    /** @var array<string, LoopbackDatagrams> outside address → the socket there for this one */
    private array $outer = [];

    public function __construct(private readonly SimulatedNetwork $network, private readonly string $device, Ipv4 $site, int $port)
    {
        $this->socket = new LoopbackDatagrams($site, $port, $network->loopback);
        $this->inbox = new Inbox();
        // Sound on the even ports; its reports on the odd ones are few, and none of them is missed (RFC 3550 §11).
        $this->isMedia = $port >= Dial::MEDIA_PORT && 0 === $port % 2;
        Background::run('datagrams', function (): void {
            while (null !== $received = $this->socket->receive()) {
                if ($this->mayCome($received[0], $received[1])) {
                    $this->inbox->put($received);
                }
            }
            $this->inbox->close();
        });
        // Where a rule leads a port outside to this one, it is heard there before anything went out.
        foreach ($this->network->ledTo($site, $this->port()) as [$seen, $outside]) {
            $this->outside($seen, $outside);
        }
    }

    public function send(Ipv4 $to, int $port, string $bytes): void
    {
        if ($this->isMedia && $this->network->loses($this->device, ++$this->sent)) {
            return;
        }
        $site = $to->isLoopback() ? $this->network->siteOf($to) : $to;
        $name = null === $site ? null : $this->network->nameOf($site);
        if (null !== $site && $this->network->isOutside($name) && !$this->network->isOutside($this->device)) {
            $seen = $this->network->leaves($this->device, $site, $port);
            if (null !== $seen) {
                // Where no rule leads a port to this one the router takes any: who announced his own is not heard by it (RFC 4787 §4.2.1).
                $by = $this->network->holds($this->device, $seen) ? $this->socket : $this->outside($seen, 0);
                if (null !== $by) {
                    $this->network->went($seen, $by->port(), $site, $port);
                }
                $by?->send($to, $port, $bytes);
            }

            return;
        }
        // A loopback address that the job does not know is a guest on this machine, and is reached.
        if (null !== $site && (null === $name || !$this->network->carries($this->device, $this->port(), $name, $port))) {
            return;
        }
        $seen = null === $name ? null : $this->network->translatedTo($this->device, $this->port(), $name, $port);
        $by = null === $seen ? $this->socket : $this->outside($seen, 0);
        if (null !== $seen && null !== $by) {
            $this->network->went($seen, $by->port(), $site, $port);
        }
        $by?->send($to, $port, $bytes);
    }

    public function receive(?float $seconds = null): ?array
    {
        return $this->inbox->take($seconds);
    }

    public function port(): int
    {
        return $this->socket->port();
    }

    public function at(Ipv4 $site): Ipv4
    {
        return $this->socket->at($site);
    }

    public function address(): Ipv4
    {
        return $this->socket->address();
    }

    public function close(): void
    {
        $this->socket->close();
        foreach ($this->outer as $outer) {
            $outer->close();
        }
        $this->outer = [];
    }

    /** Other stand-ins were checked when they sent; an outpost, and any party outside, is checked here. */
    private function mayCome(Ipv4 $from, int $port): bool
    {
        $site = $this->network->siteOf($from);
        $name = null === $site ? null : $this->network->nameOf($site);

        return match (true) {
            null === $name => true,
            null !== $this->network->segmentOfOutpost($name) => $this->network->carries($name, $port, $this->device, $this->port()),
            // Straight to its own address: only where that is one of the public network's.
            $this->network->isOutside($name) => $this->network->isOutside($this->device) || $this->network->isOpen($this->device),
            default => true,
        };
    }

    /** The socket at an outside address; null if that port is in use there. */
    private function outside(Ipv4 $seen, int $port): ?LoopbackDatagrams
    {
        $key = (string) $seen;
        if (!isset($this->outer[$key])) {
            try {
                $outer = $this->outer[$key] = new LoopbackDatagrams($seen, $port, $this->network->loopback);
            } catch (\Throwable) {
                return null;
            }
            Background::run('datagrams', function () use ($outer, $seen): void {
                while (null !== $received = $outer->receive()) {
                    $from = $this->network->siteOf($received[0]);
                    if (null !== $from && $this->network->enters($this->device, $from, $received[1], $seen, $outer->port())) {
                        $this->inbox->put($received);
                    }
                }
            });
        }

        return $this->outer[$key];
    }
}
