<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Net\Address;
use Vorhut\Core\Text\Message;

/**
 * One wire: who answers ARP, or neighbour discovery, for an address on it (RFC 826, RFC 4861 §7.2).
 *
 * The strict assumption: the holder of the address answers ARP from any sender, and a router answers only for its interface's own address
 * unless it does proxy ARP.
 */
final class Link
{
    public function __construct(private readonly TranslatingRouter $translation)
    {
    }

    /** @return list<Host> everyone who holds the address here */
    public function holders(PacketContext $context, string $segment, Address $address): array
    {
        $holders = $context->model->holders($segment, $address);
        $refs = array_map(static fn (Host $host): string => $host->ref, $holders);
        if (\count($refs) > 1) {
            sort($refs);
        }
        $context->facts->add('segments/'.$segment.':holders of '.$address.'='.implode(' ', $refs));

        return $holders;
    }

    /**
     * A router that answers for what it would forward elsewhere (proxy ARP, RFC 1027); of several the first that answers.
     *
     * @param string $except a router that asks itself
     */
    public function proxy(PacketContext $context, string $segment, Address $address, string $except = ''): ?Host
    {
        foreach ($context->model->proxiesOn($segment) as $port) {
            $route = $port->router === $except ? null : $context->model->routingTable($port->router)->lookUp($address);
            if (null !== $route && $route[0]->segment !== $segment) {
                $context->facts->note('routerPorts/'.$port->key.':proxyArp', true);

                return $context->model->host('routerPorts/'.$port->key);
            }
        }

        return null;
    }

    /**
     * Delivers the packet to the host that answers for its destination.
     *
     * @param non-empty-list<Host> $holders
     * @param Message              $text    what the hop says where exactly one answers
     */
    public function deliver(PacketContext $context, Spot $at, array $holders, Host $target, Packet $packet, Message $text): Decision
    {
        $address = (string) $packet->destination;
        if (\count($holders) > 1) {
            $context->culprit = $target;

            return $context->stop($at, Fault::Duplicate, new Message(
                '{address} is held by {names} on one wire: who answers changes from minute to minute.',
                ['address' => $address, 'names' => self::names($holders)],
            ));
        }
        $holder = $holders[0];
        if ($this->isOutsideAddress($context, $holder, $target, $packet)) {
            $context->pass($at, $text);

            return Decision::goesTo($holder, $packet);
        }
        if (!self::isSame($holder, $target)) {
            $context->culprit = $target;

            return $context->stop($at, Fault::AnotherHolds, new Message(
                'On this wire {other} holds {address}, not {peer}.',
                ['other' => $holder->label, 'address' => $address, 'peer' => $target->label],
            ));
        }
        $context->pass($at, $text);
        $context->pass(new Spot($target->ref, $target->label, $at->segment), new Message(
            $context->isAnswer ? 'The answer arrives at {peer}.' : '{peer} gets it at {address}.',
            ['peer' => $target->label, 'address' => $address],
        ));

        return Decision::arrives($packet);
    }

    /** @param list<Host> $hosts */
    public static function names(array $hosts): string
    {
        $names = array_map(static fn (Host $host): string => (string) $host->label, $hosts);
        sort($names);

        return implode(', ', $names);
    }

    /** A router has it as an outside address and translates it to a device inside. */
    private function isOutsideAddress(PacketContext $context, Host $holder, Host $target, Packet $packet): bool
    {
        return $holder->forwards
            && $holder->device !== $target->device
            && $this->translation->translates($context, $holder, $packet);
    }

    private static function isSame(Host $holder, Host $target): bool
    {
        return $holder->ref === $target->ref || (null !== $target->device && $holder->device === $target->device);
    }
}
