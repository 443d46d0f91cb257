<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Plan\Translation;
use Vorhut\Core\Text\Message;

/** Applies a router's address translation to the packet under way, and records where it rewrites one (RFC 2663). */
final class TranslatingRouter
{
    /** On the way in, before the router looks up a route. */
    public function inward(PacketContext $context, Spot $at, Host $ingress, Packet $packet): Packet
    {
        $router = (string) $ingress->device;
        $translator = $context->translator($router);
        if (null === $translator) {
            return $packet;
        }
        [$next, $rule] = $translator->inward($ingress->segment, $packet, $context->isNewFlow($packet));
        $fact = "translations/$router:in {$ingress->segment} {$packet->destination}";
        $this->noteRule($context, $translator, $ingress->segment, $fact, $rule);
        if (!$next->equals($packet)) {
            $text = null === $rule
                ? '{router} knows the flow and forwards the reply for {outside} to {inside}.'
                : '{router} translates {outside} to {inside}.';
            $context->pass($at, new Message($text, [
                'router' => $at->label,
                'outside' => $packet->destination.':'.$packet->port,
                'inside' => $next->destination.':'.$next->port,
            ]));
        }

        return $next;
    }

    /**
     * On the way out, after the filter.
     *
     * @param Packet $came as it came to this router, before inward()
     */
    public function outward(PacketContext $context, Spot $at, RouterPort $egress, Packet $came, Packet $packet): Packet
    {
        $translator = $context->translator($egress->router);
        if (null === $translator) {
            return $packet;
        }
        [$next, $rule] = $translator->outward($egress->segment, $came, $packet, $context->isNewFlow($came));
        $fact = "translations/{$egress->router}:out {$egress->segment} {$packet->source}";
        $this->noteRule($context, $translator, $egress->segment, $fact, $rule);
        if (!$next->equals($packet)) {
            $context->pass($at, new Message('{router} sends it out as from {outside}; it came from {inside}.', [
                'router' => $at->label,
                'outside' => (string) $next->source,
                'inside' => (string) $packet->source,
            ]));
        }

        return $next;
    }

    /** Whether the holder of an outside address would forward a packet for it to a device inside. */
    public function translates(PacketContext $context, Host $holder, Packet $packet): bool
    {
        $translator = $context->translator((string) $holder->device);
        if (null === $translator) {
            return false;
        }

        return !$translator->inward($holder->segment, $packet, $context->isNewFlow($packet))[0]->equals($packet);
    }

    private function noteRule(PacketContext $context, Translator $translator, string $segment, string $fact, ?Translation $rule): void
    {
        if ($translator->concerns($segment)) {
            $context->facts->note($fact, (string) ($rule ?? 'none'));
        }
    }
}
