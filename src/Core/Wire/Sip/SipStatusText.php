<?php

declare(strict_types=1);

namespace Vorhut\Core\Wire\Sip;

use Vorhut\Core\Text\Message;

/** SIP answers in plain words, for people who have to do something about them. */
final class SipStatusText
{
    public static function words(int $status): Message
    {
        return match (true) {
            0 === $status => new Message('no answer at all: address, port, transport or filter'),
            401 === $status, 407 === $status => new Message('the registrar wants a password'),
            403 === $status => new Message('403: account name or password refused'),
            404 === $status => new Message('404: number not known to this PBX'),
            408 === $status => new Message('408: no answer in time'),
            415 === $status, 488 === $status => new Message('{status}: no common codec', ['status' => $status]),
            480 === $status => new Message('480: no device is registered for it'),
            486 === $status => new Message('486: busy'),
            487 === $status => new Message('487: given up while it rang'),
            603 === $status => new Message('603: declined'),
            $status < 300 => new Message('{status}: accepted', ['status' => $status]),
            $status < 400 => new Message('{status}: sent elsewhere', ['status' => $status]),
            $status < 500 => new Message('{status}: refused as it was asked', ['status' => $status]),
            default => new Message('{status}: the far end failed', ['status' => $status]),
        };
    }
}
