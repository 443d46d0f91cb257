<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Discovery;

use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\RouterPort;
use Vorhut\Core\Text\Message;

/** Whether multicast reaches a listener, for how long, and which other devices receive it needlessly. */
final readonly class Delivery
{
    /** When a membership without queries expires: robustness × query interval + response interval (RFC 3376 §8.4). */
    public const DARK_AFTER = 260;

    /**
     * @param 'arrives'|'goes-dark'|'not' $verdict
     * @param list<Message>               $mind    what it costs, or will cost
     */
    private function __construct(public string $verdict, public Message $why, public array $mind, public int $hops)
    {
    }

    /** @param NetworkModel|null $model where a device that Wi-Fi refuses is to receive nothing */
    public static function of(Plan $plan, MulticastGroup $group, Device $receiver, ?NetworkModel $model = null): self
    {
        $here = $plan->segments[$group->sender?->nic()->segment ?? ''] ?? null;
        $there = $plan->segments[$receiver->nic()->segment ?? ''] ?? null;
        $at = [
            'group' => (string) $group->group,
            'sender' => $group->sender->tag ?? '?',
            'receiver' => $receiver->tag,
            'here' => $here->name ?? '?',
            'there' => $there->name ?? '?',
            'n' => self::DARK_AFTER,
        ];
        if (null === $here || null === $there) {
            return new self('not', new Message('{sender} or {receiver} is not plugged into a segment.', $at), [], 0);
        }
        $refusal = $model?->refusal($group->sender?->key) ?? $model?->refusal($receiver->key);
        if (null !== $refusal) {
            return new self('not', $refusal->text, [], 0);
        }
        $way = $here === $there ? [$here->key] : self::way($plan, $here->key, $there->key);
        $mind = [];
        foreach ($way ?? [$there->key] as $key) {
            $segment = $plan->segments[$key];
            $on = ['segment' => $segment->name, 'n' => self::DARK_AFTER];
            if ($segment->wireless) {
                $mind[] = new Message('{segment} is wireless: sent at the lowest rate, once for all, and never repeated.', $on);
            }
            if (false === $segment->snooping) {
                $mind[] = new Message('{segment} does not watch who listens: it comes out of every port.', $on);
            }
        }
        if ('link' === $group->group->scope() && $here !== $there) {
            return new self('not', new Message('{group} never leaves its wire (RFC 5771 §4).', $at), $mind, 0);
        }
        if (null === $way) {
            return new self('not', new Message('No router routes groups from {here} to {there}.', $at), $mind, 0);
        }
        $hops = \count($way) - 1;
        if ($group->ttl <= $hops) {
            return new self('not', new Message('{sender} sends with a time to live of {ttl}, and {hops} routers are on the way.', $at + [
                'ttl' => $group->ttl,
                'hops' => $hops,
            ]), $mind, $hops);
        }
        foreach ($way as $key) {
            $segment = $plan->segments[$key];
            if (true === $segment->snooping && false === $segment->querier) {
                return new self('goes-dark', new Message(
                    '{segment} has IGMP snooping without a querier: it works at first, and stops after {n} s.',
                    ['segment' => $segment->name, 'n' => self::DARK_AFTER],
                ), $mind, $hops);
            }
        }

        return new self('arrives', 0 === $hops
            ? new Message('Both are on {here}.', $at)
            : new Message('Routed as a group by [hops router|routers].', ['hops' => $hops]), $mind, $hops);
    }

    /** Over how many routers groups come from one segment to another; null where none routes them. */
    public static function hops(Plan $plan, string $from, string $to): ?int
    {
        $way = $from === $to ? [$from] : self::way($plan, $from, $to);

        return null === $way ? null : \count($way) - 1;
    }

    /** @return list<string>|null the segments that it crosses, the first and the last included; null where no way leads there */
    private static function way(Plan $plan, string $from, string $to): ?array
    {
        $before = [$from => null];
        $queue = [$from];
        while ([] !== $queue) {
            $here = array_shift($queue);
            foreach ($plan->routerPortsOn($here) as $port) {
                if ($port->multicast) {
                    foreach (self::portsOf($plan, $port->router) as $other) {
                        if ($other->multicast && !\array_key_exists($other->segment, $before)) {
                            $before[$other->segment] = $here;
                            $queue[] = $other->segment;
                        }
                    }
                }
            }
        }
        if (!\array_key_exists($to, $before)) {
            return null;
        }
        $way = [];
        for ($at = $to; null !== $at; $at = $before[$at]) {
            array_unshift($way, $at);
        }

        return $way;
    }

    /** @return list<RouterPort> */
    private static function portsOf(Plan $plan, string $router): array
    {
        return array_values(array_filter($plan->routerPorts, static fn (RouterPort $port): bool => $port->router === $router));
    }
}
