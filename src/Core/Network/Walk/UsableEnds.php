<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Text\Message;

/** Whether both ends can take part at all: an address that a host may hold, a wire, and Wi-Fi that lets them in. */
final class UsableEnds
{
    /** Records the fault where one cannot. */
    public static function areUsable(PacketContext $context, Host $sender, Host $target, ?Address $destination): bool
    {
        if (null === $target->address || null === $destination) {
            return self::refuse($context, $target, Fault::NoAddress, new Message('{peer} has no address.', ['peer' => $target->label]));
        }
        if (null === $sender->address) {
            return self::refuse($context, $sender, Fault::NoAddress, new Message('{host} has no address.', ['host' => $sender->label]));
        }

        return self::isPlugged($context, $sender, $sender->address)
            && self::isPlugged($context, $target, $target->address)
            && self::isAdmitted($context, $sender)
            && self::isAdmitted($context, $target);
    }

    private static function isPlugged(PacketContext $context, Host $host, Address $address): bool
    {
        $why = $address->whyNotAHost();
        if (null !== $why) {
            return self::refuse($context, $host, Fault::UnusableAddress, new Message('{why}', ['why' => $why]));
        }
        if ('' === $host->segment) {
            $text = new Message('{who} is not plugged into any segment.', ['who' => $host->label]);

            return self::refuse($context, $host, Fault::NotPlugged, $text);
        }

        return true;
    }

    /** No packet leaves or reaches a device that Wi-Fi refuses (IEEE 802.1X). */
    public static function isAdmitted(PacketContext $context, Host $host): bool
    {
        $refusal = $context->model->refusal($host->device);
        if (null === $refusal) {
            return true;
        }
        $context->beginHop();
        foreach ($refusal->facts->texts() as $fact) {
            $context->facts->add($fact);
        }

        return self::refuse($context, $host, Fault::NotAuthenticated, new Message('{why}', ['why' => $refusal->text]));
    }

    private static function refuse(PacketContext $context, Host $culprit, Fault $fault, Message $reason): false
    {
        $context->culprit = $culprit;
        $context->stop($culprit->spot, $fault, $reason);

        return false;
    }
}
