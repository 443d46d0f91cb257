<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Mdns\Query;
use Vorhut\Core\Wire\ParseError;
use Vorhut\Socket\Background;

/** Answers group questions for its service by unicast (RFC 6762 §6.7), with the address it really holds. */
final class Announcer implements Behaviour
{
    private GatedDatagrams $socket;

    public function __construct(SimulatedNetwork $network, private readonly StandIn $standIn, private readonly Ipv4 $address)
    {
        $this->socket = new GatedDatagrams($network, $standIn->state->device, $address, Query::PORT);
        Background::run('mDNS', function (): void {
            // A question by unicast is legal too (§5.5).
            while (null !== $received = $this->socket->receive()) {
                $this->hear($received[2], $received[0], $received[1]);
            }
        });
    }

    public function hear(string $packet, Ipv4 $asker, int $port): void
    {
        try {
            $question = Query::read($packet);
        } catch (ParseError) {
            return;
        }
        $type = $this->standIn->kind->discoveryService;
        if (null === $question || null === $type || $question['type'] !== $type) {
            return;
        }
        $service = $this->standIn->serviceNamed('admin');
        $this->socket->send(
            $asker,
            $port,
            Query::answer(
                $question['id'],
                $type,
                $this->standIn->state->get('hostName'),
                $this->standIn->state->get('hostName'),
                $service?->port->number ?? 80,
                $this->address,
            ),
        );
    }

    public function end(): void
    {
        $this->socket->close();
    }
}
