<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sip\SipMessage;
use Vorhut\Socket\SipLine;

/** A room codec: takes direct calls, without a registrar. */
final class Codec implements Behaviour
{
    private const ALLOWED = ['INVITE', 'ACK', 'BYE', 'CANCEL', 'OPTIONS', 'UPDATE'];

    private SipLine $line;
    private Callee $callee;

    public function __construct(SimulatedNetwork $network, StandIn $standIn, Ipv4 $address)
    {
        $device = $standIn->state->device;
        // Answered by a person in the room, or automatically; as many at once as licensed.
        $this->callee = new Callee(
            $network,
            $device,
            $address,
            'room',
            $standIn->kind->name,
            'off' === $standIn->state->get('autoAnswer') ? 0.6 : 0.1,
            660,
            max(1, (int) $standIn->state->get('multipointParties')),
            announced: Ipv4::tryFromString($standIn->state->get('announcedAddress')),
        );
        $this->line = new SipLine(
            new GatedDatagrams($network, $device, $address, 5060),
            function (SipMessage $request, Ipv4 $from, int $port): void {
                match ($request->method) {
                    'INVITE' => $this->callee->onInvite($this->line, $request, $from, $port),
                    'OPTIONS' => $this->line->answer(
                        $request,
                        SipMessage::response($request, 200, null, [['Allow', implode(', ', self::ALLOWED)]]),
                        $from,
                        $port,
                    ),
                    default => $this->callee->take($this->line, $request, $from, $port),
                };
            },
            self::ALLOWED,
        );
    }

    public function end(): void
    {
        $this->callee->endAll();
        $this->line->close();
    }
}
