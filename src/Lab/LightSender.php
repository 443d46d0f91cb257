<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Revolt\EventLoop;
use Vorhut\Core\Lighting\Patch;
use Vorhut\Core\Lighting\Universe;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sacn\SacnPacket;

/**
 * Sends lighting: its universes, at their levels and priority. The lab delivers each packet by unicast to every listener that multicast
 * would reach; four a second, where a desk sends forty-four.
 */
final class LightSender implements Behaviour
{
    private const EVERY = 0.25;
    /** So many universes of one sender are played. */
    private const AT_MOST = 32;

    private GatedDatagrams $socket;
    private string $timer;
    private int $sequence = 0;
    private readonly string $cid;

    /** @param \Closure(): list<Ipv4> $ears addresses of the present listeners */
    public function __construct(
        SimulatedNetwork $network,
        private readonly StandIn $standIn,
        Ipv4 $address,
        private readonly \Closure $ears,
    ) {
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, 0);
        $this->cid = substr(hash('sha256', $standIn->state->device, true), 0, 16);
        $this->timer = EventLoop::unreference(EventLoop::repeat(self::EVERY, $this->say(...)));
    }

    public function end(): void
    {
        EventLoop::cancel($this->timer);
        $this->socket->close();
    }

    private function say(): void
    {
        $ears = ($this->ears)();
        $state = $this->standIn->state;
        ++$this->sequence;
        $name = '' === $state->get('hostName') ? $this->standIn->kind->name : $state->get('hostName');
        $priority = '' === $state->get('priority') ? SacnPacket::PRIORITY : (int) $state->get('priority');
        $voices = [$this->cid => $name];
        if ($state->isFaulty(InjectedFault::SecondSender)) {
            $voices[strrev($this->cid)] = $name.', left on';
        }
        $sent = [] === $ears ? [] : Patch::parseUniverses($state->get('universe'), $state->get('universesSent'));
        foreach (\array_slice($sent, 0, self::AT_MOST) as $number) {
            foreach ($voices as $cid => $voice) {
                $packet = (string) new SacnPacket(
                    (string) $cid,
                    $voice,
                    min(SacnPacket::PRIORITY_MOST, $priority),
                    $this->sequence,
                    $number,
                    str_repeat("\x80", Universe::SLOTS),
                );
                foreach ($ears as $ear) {
                    $this->socket->send($ear, Universe::PORT, $packet);
                }
            }
        }
    }
}
