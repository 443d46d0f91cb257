<?php

declare(strict_types=1);

namespace Vorhut\Outpost\Device;

use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;
use Vorhut\Outpost\Probe\OutpostError;

/** The device that answers there is not confirmed: it is sent no password. */
final class UnidentifiedDevice extends \RuntimeException implements OutpostError
{
    private function __construct(public readonly ?Mac $mac, private readonly Message $said)
    {
        parent::__construct((string) $said);
    }

    public static function withMac(Mac $mac, Ipv4 $address, Device $device): self
    {
        return new self($mac, new Message('{address} belongs to {mac}, which is not a port of {tag}: no password was sent there.', [
            'address' => (string) $address,
            'mac' => (string) $mac,
            'tag' => $device->tag,
        ]));
    }

    public static function unknown(Ipv4 $address, Device $device): self
    {
        return new self(null, new Message(
            'Nothing tells that it is {tag} which answers at {address}: no password was sent there. Write its MAC into the roster, and ask '
                .'from its own segment.',
            ['address' => (string) $address, 'tag' => $device->tag],
        ));
    }

    public function message(): Message
    {
        return $this->said;
    }
}
