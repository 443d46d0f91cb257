<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Wire\Ptp\Announce;

/** A clock on a network for sound: while it leads, it says so every second (IEEE 1588-2008 §9.5.8). */
final class ClockSender implements Behaviour
{
    private const EVERY = 1.0;

    private GatedDatagrams $socket;
    private string $timer;
    private int $sequence = 0;

    /**
     * @param \Closure(): bool       $leads whether it is the clock leader now, by the devices in its segment
     * @param \Closure(): list<Ipv4> $ears  addresses of the present listeners
     */
    public function __construct(
        SimulatedNetwork $network,
        StandIn $standIn,
        Ipv4 $address,
        private readonly ?Mac $mac,
        private readonly \Closure $leads,
        private readonly \Closure $ears,
    ) {
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, 0);
        $this->timer = EventLoop::unreference(EventLoop::repeat(self::EVERY, $this->say(...)));
    }

    public function end(): void
    {
        EventLoop::cancel($this->timer);
        $this->socket->close();
    }

    private function say(): void
    {
        if (!($this->leads)()) {
            return;
        }
        $identity = null === $this->mac ? random_bytes(8) : Announce::identity($this->mac);
        $announce = (string) new Announce($identity, $identity, sequence: ++$this->sequence);
        foreach (($this->ears)() as $ear) {
            $this->socket->send($ear, Announce::PORT, $announce);
        }
    }
}
