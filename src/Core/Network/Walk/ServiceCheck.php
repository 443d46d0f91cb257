<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Catalogue\Service;
use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\Port;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;

/** Whether the device that a request reached serves the port, and serves it to this asker. */
final class ServiceCheck
{
    /** Records the fault where it does not. */
    public function isServed(PacketContext $context, Host $target, Address $asker, Port $port): bool
    {
        $device = $context->model->device($target->device);
        if (null === $device) {
            return true;
        }
        $service = $device->service($port, $context->model->face);
        $context->facts->note('devices/'.$device->key.':service '.$port, null !== $service);
        $at = $target->spot;
        $values = ['peer' => $target->label, 'port' => (string) $port, 'kind' => $device->kind->name];
        if (null === $service) {
            $other = $this->ofOtherTransport($context, $device, $port);
            $context->stop($at, Fault::NotServed, null === $other
                ? new Message('{peer} ({kind}) does not serve {port}.', $values)
                : new Message('{peer} serves {other}, not {port}: UDP is not TCP.', $values + ['other' => (string) $other->port]));

            return false;
        }
        if ($service->ownSubnetOnly && !$this->isInSubnet($context, $target, $asker)) {
            $context->stop($at, Fault::OwnSubnetOnly, new Message(
                '{peer} serves {port} to its own subnet only, and {from} is outside.',
                $values + ['from' => (string) $asker],
            ));

            return false;
        }
        $context->pass($at, new Message('{peer} serves {port}.', $values));

        return true;
    }

    private function ofOtherTransport(PacketContext $context, Device $device, Port $port): ?Service
    {
        foreach ($device->services($context->model->face) as $service) {
            if ($service->port->number === $port->number) {
                return $service;
            }
        }

        return null;
    }

    private function isInSubnet(PacketContext $context, Host $target, Address $asker): bool
    {
        $target->note($context->facts, 'mask');

        return true === $target->network?->contains($asker);
    }
}
