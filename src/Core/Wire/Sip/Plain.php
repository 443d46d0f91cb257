<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

/** SIP answers in plain words, for people who have to do something about them. */
final class Plain
{
    public static function words(int $status): string
    {
        return match (true) {
            0 === $status => 'no answer at all: address, port, transport or filter',
            401 === $status, 407 === $status => 'the registrar wants a password',
            403 === $status => '403: account name or password refused',
            404 === $status => '404: number not known to this PBX',
            408 === $status => '408: asked, and nobody answered in time',
            415 === $status, 488 === $status => $status.': no common codec',
            480 === $status => '480: nobody is registered for it now',
            486 === $status => '486: busy',
            487 === $status => '487: given up while it rang',
            603 === $status => '603: declined',
            $status < 300 => $status.': accepted',
            $status < 400 => $status.': sent elsewhere',
            $status < 500 => $status.': refused as it was asked',
            default => $status.': the far end failed',
        };
    }
}
