<?php

declare(strict_types=1);

namespace Vorhut\Lab;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Wire\Sip\Message;
use Vorhut\Socket\SipLine;

/** A room codec: takes direct calls, without a registrar. */
final class Codec implements Behaviour
{
    private SipLine $line;
    private Callee $callee;

    public function __construct(Wire $wire, StandIn $standIn, Ipv4 $address)
    {
        $device = $standIn->truth->device;
        $this->callee = new Callee($wire, $device, $address, 'room', $standIn->kind->name, 0.3, 660);
        $this->line = new SipLine(new GatedDatagrams($wire, $device, $address, 5060), function (Message $request, Ipv4 $from, int $port): void {
            match ($request->method) {
                'INVITE' => $this->callee->invited($this->line, $request, $from, $port),
                'ACK' => $this->callee->acknowledged($request),
                'CANCEL' => $this->callee->cancelled($this->line, $request, $from, $port),
                'BYE' => $this->callee->hungUp($this->line, $request, $from, $port),
                'OPTIONS' => $this->line->answer($request, Message::response($request, 200, null, [['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS']]), $from, $port),
                default => $this->line->answer($request, Message::response($request, 405, null, [['Allow', 'INVITE, ACK, BYE, CANCEL, OPTIONS']]), $from, $port),
            };
        });
    }

    public function end(): void
    {
        $this->callee->endAll();
        $this->line->close();
    }
}
