<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Net\IpVersion;
use Vorhut\Core\Net\Subnet;
use Vorhut\Core\Text\Message;

/**
 * A host decides by its own address, mask and gateway only: it looks for an address of its network in its segment, and sends all other
 * packets to its gateway (RFC 1122 §3.3.1.1). Redirects are ignored.
 */
final class SendingHost
{
    public function __construct(private readonly Link $link)
    {
    }

    public function send(PacketContext $context, Host $sender, Host $target, Packet $packet): Decision
    {
        $values = ['host' => $sender->label, 'peer' => $target->label];
        $own = $packet->source;
        if ($own->equals($packet->destination)) {
            return $context->stop($sender->spot, Fault::SameAddress, new Message(
                '{host} and {peer} both hold {address}: {host} talks to itself.',
                $values + ['address' => (string) $target->address],
            ));
        }
        if ($sender->forwards) {
            // A router sends by its own table; its filter does not look at what it says itself.
            $context->pass($sender->spot, new Message('{host} sends by its own routing table.', $values));

            return Decision::isSentBy($sender, $packet);
        }
        $sender->note($context->facts, 'mask');
        $network = $sender->network;
        if (null === $network) {
            return $context->stop($sender->spot, Fault::NoAddress, new Message('{host} has an address but no mask.', $values));
        }
        $values += [
            'address' => (string) $packet->destination,
            'mask' => '/'.$network->prefix(),
            'network' => (string) $network,
        ];
        if ($network->contains($packet->destination)) {
            return $this->sendInside($context, $sender, $network, $target, $packet, $values);
        }
        if ($own->isLinkLocal()) {
            return $context->stop($sender->spot, Fault::LinkLocalOnly, new Message(
                '{host} has only the link-local address {own}: it reaches nothing beyond its own wire.',
                $values + ['own' => (string) $own],
            ));
        }

        return $this->sendOutside($context, $sender, $network, $target, $packet, $values);
    }

    /** @param array<string, string|Message> $values */
    private function sendInside(
        PacketContext $context,
        Host $sender,
        Subnet $network,
        Host $target,
        Packet $packet,
        array $values,
    ): Decision {
        if ($network->isEdge($packet->destination)) {
            return $context->stop($sender->spot, Fault::EdgeOfOwnMask, new Message(
                '{host} does not send: with its mask {mask}, {address} is the network or broadcast address of {network}.',
                $values,
            ));
        }

        return $this->askOnOwnWire(
            $context,
            $sender,
            $target,
            $packet,
            new Message('{host} finds {address} in its own {network} and looks for it in its segment.', $values),
            Fault::NextDoor,
            new Message('{host} treats {peer} as local: with its mask {mask}, {address} is in {network}, so it looks in its segment, '
                .'where no device has it.', $values),
        );
    }

    /** @param array<string, string|Message> $values */
    private function sendOutside(
        PacketContext $context,
        Host $sender,
        Subnet $network,
        Host $target,
        Packet $packet,
        array $values,
    ): Decision {
        $sender->note($context->facts, 'gateway');
        $gateway = $sender->gatewayAddress;
        $values['gateway'] = $sender->gateway ?? '';
        if (null === $gateway) {
            return $context->stop($sender->spot, Fault::NoGateway, new Message($context->isAnswer
                ? 'The request arrives, the answer cannot leave: {host} has no gateway, and {address} is not in its {network}.'
                : '{host} has no gateway, and {address} is not in its {network}.', $values));
        }
        if ($gateway->equals($packet->source)) {
            return $this->askOnOwnWire(
                $context,
                $sender,
                $target,
                $packet,
                new Message('{host} is its own gateway and asks for {address} on its own wire.', $values),
                Fault::GatewayIsSelf,
                new Message('{host} is its own gateway: it treats every address as local and looks for {address} in its segment, '
                    .'where no device has it.', $values),
            );
        }
        if (!$this->isOnOwnWire($context, $network, $gateway)) {
            return $context->stop($sender->spot, Fault::GatewayOutside, new Message(
                'The gateway {gateway} of {host} is not a host address in its own {network}.',
                $values,
            ));
        }

        return $this->giveToGateway($context, $sender, $gateway, $packet, $values);
    }

    private function isOnOwnWire(PacketContext $context, Subnet $network, Address $gateway): bool
    {
        // The gateway of IPv6 is a link-local address as a rule, and lies in no other network (RFC 4861 §4.2).
        if (IpVersion::Six === $context->model->version && $gateway->isLinkLocal()) {
            return true;
        }

        return $network->contains($gateway) && !$network->isEdge($gateway);
    }

    /** @param array<string, string|Message> $values */
    private function giveToGateway(PacketContext $context, Host $sender, Address $gateway, Packet $packet, array $values): Decision
    {
        $at = $sender->spot;
        $holders = $this->link->holders($context, $sender->segment, $gateway);
        $proxy = [] === $holders ? $this->link->proxy($context, $sender->segment, $gateway) : null;
        if (null !== $proxy) {
            $context->pass($at, new Message(
                '{host} asks for its gateway {gateway}: {router} answers in its place.',
                $values + ['router' => $proxy->label],
            ));

            return Decision::goesTo($proxy, $packet);
        }
        if ([] === $holders) {
            return $context->stop($at, Fault::NoSuchGateway, new Message(
                '{host} sends to the gateway {gateway}, but no device on {segment} has that address.',
                $values + ['segment' => $context->segmentName($sender->segment)],
            ));
        }
        if (\count($holders) > 1) {
            return $context->stop($at, Fault::GatewayDuplicate, new Message(
                'The gateway {gateway} is held by {names} at once: unstable.',
                $values + ['names' => Link::names($holders)],
            ));
        }
        if (!$holders[0]->forwards) {
            return $context->stop($at, Fault::GatewayIsHost, new Message(
                '{host} sends to the gateway {gateway}: that is {other}, which takes the packet and does not forward it.',
                $values + ['other' => $holders[0]->label],
            ));
        }
        $context->pass($at, new Message('{host} hands it to its gateway {gateway}.', $values));

        return Decision::goesTo($holders[0], $packet);
    }

    /** @param Message $none the fault if no host answers */
    private function askOnOwnWire(
        PacketContext $context,
        Host $sender,
        Host $target,
        Packet $packet,
        Message $text,
        Fault $fault,
        Message $none,
    ): Decision {
        $at = $sender->spot;
        $holders = $this->link->holders($context, $sender->segment, $packet->destination);
        $proxy = [] === $holders ? $this->link->proxy($context, $sender->segment, $packet->destination) : null;
        if (null !== $proxy) {
            $context->pass($at, new Message(
                '{host} asks for {address} on its own wire: {router} answers in its place.',
                ['host' => $sender->label, 'address' => (string) $packet->destination, 'router' => $proxy->label],
            ));

            return Decision::goesTo($proxy, $packet);
        }
        if ([] === $holders) {
            return $context->stop($at, $fault, $none);
        }

        return $this->link->deliver($context, $at, $holders, $target, $packet, $text);
    }
}
