<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Text\Message;

/** A multicast stream does not reach a listener, or ends early. */
final class GroupDoesNotArrive implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach (MulticastGroup::all($context->plan) as $group) {
            /** @var array<string, non-empty-list<array{Device, Delivery}>> $by reason → listeners affected */
            $by = [];
            foreach ($group->receivers as $receiver) {
                $delivery = Delivery::of($context->plan, $group, $receiver, NetworkAsSet::of($context));
                if ('arrives' !== $delivery->verdict) {
                    $by[(string) $delivery->why][] = [$receiver, $delivery];
                }
            }
            foreach ($by as $some) {
                $tags = array_map(static fn (array $one): string => $one[0]->tag, $some);
                $dark = 'goes-dark' === $some[0][1]->verdict;
                $at = ['name' => $group->name, 'tags' => implode(', ', \array_slice($tags, 0, 5)).(\count($tags) > 5 ? ' …' : '')];
                yield new Finding(
                    $dark ? 'group-goes-dark' : 'group-not-heard',
                    Severity::Blocks,
                    Stage::Networks,
                    ['groups/'.$group->key, ...array_map(static fn (array $one): string => $one[0]->record(), $some)],
                    new Message($dark ? '{name} stops after a few minutes at {tags}.' : '{name} does not reach {tags}.', $at),
                    $some[0][1]->why,
                    new Message($dark
                        ? 'Ask for an IGMP querier on the segment: a router or a switch that queries receivers every 125 s (RFC 3376 §8.2).'
                        : 'Ask for multicast routing on both interfaces and a TTL above the number of hops, or use one segment.'),
                );
            }
        }
    }
}
