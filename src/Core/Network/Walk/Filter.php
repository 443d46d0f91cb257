<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Walk;

use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\FilterRule;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/**
 * The packet filter of a router: the first rule that matches decides, else the router's default. A packet that leaves on the interface it
 * arrived on has a default of its own.
 */
final class Filter
{
    /** Records the fault where it does not. */
    public function passes(PacketContext $context, Device $router, Host $ingress, RouterPort $egress, Packet $packet): bool
    {
        if ($this->knowsFlow($context, $router)) {
            return true;
        }
        $rule = $this->firstMatch($context, $router->key, $ingress->segment, $egress->segment, $packet);
        if (null !== $rule) {
            $context->noteRule($rule);
        }
        $allows = $rule->allows ?? $this->byDefault($router, $ingress, $egress);
        $context->facts->note(
            'filters/'.$router->key.':'.$ingress->segment.'>'.$egress->segment.' '.$packet->port(),
            null === $rule ? 'default '.($allows ? 'allow' : 'deny') : (string) $rule,
        );
        if (!$allows) {
            $this->refuse($context, $router, $ingress, $egress, $packet, $rule);
        }

        return $allows;
    }

    /** The answer of a flow that went out through this very router; on another way back it would be a new flow. */
    private function knowsFlow(PacketContext $context, Device $router): bool
    {
        $knows = $context->isAnswer && $router->stateful && $context->hasForwardedRequest($router->key);
        if ($knows) {
            $context->facts->note('devices/'.$router->key.':stateful', true);
        }

        return $knows;
    }

    private function byDefault(Device $router, Host $ingress, RouterPort $egress): bool
    {
        return $ingress->segment === $egress->segment ? $router->forwardsOnSameInterface : $router->forwardsByDefault;
    }

    private function firstMatch(PacketContext $context, string $router, string $from, string $to, Packet $packet): ?FilterRule
    {
        $port = $packet->port();
        foreach ($context->model->rulesBetween($router, $from, $to) as $rule) {
            if ($rule->looksAtAddresses()) {
                $context->facts->add('filters/'.$router.':rule='.$rule);
            }
            if ($rule->matches($from, $to, $port, $packet->source, $packet->destination)) {
                return $rule;
            }
        }

        return null;
    }

    private function refuse(
        PacketContext $context,
        Device $router,
        Host $ingress,
        RouterPort $egress,
        Packet $packet,
        ?FilterRule $rule,
    ): void {
        $context->fromSegment = $ingress->segment;
        $context->toSegment = $egress->segment;
        $text = match (true) {
            $context->isAnswer => 'The filter of {router} does not know this answer from {from} to {to} ({port}) and stops it.',
            null === $rule => 'The filter of {router} has no rule for {port} from {from} to {to}, and its default is to deny.',
            default => 'Rule {rule} of the filter of {router} denies {port} from {from} to {to}.',
        };
        $context->stop(new Spot($ingress->ref, $router->tag, $ingress->segment), Fault::Filtered, new Message($text, [
            'router' => $router->tag,
            'from' => $context->segmentName($ingress->segment),
            'to' => $context->segmentName($egress->segment),
            'port' => (string) $packet->port(),
            'rule' => null === $rule ? '' : (string) $rule->position,
        ]));
    }
}
