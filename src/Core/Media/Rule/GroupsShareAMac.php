<?php

declare(strict_types=1);

namespace Vorhut\Core\Media\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Discovery\FreeGroup;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;

/** Two groups of the job are one to every switch, or one is one with a group that all hosts listen to (RFC 1112 §6.4). */
final class GroupsShareAMac implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $by = [];
        foreach (MulticastGroup::all($context->plan) as $group) {
            $by[$group->group->mac()][] = $group;
        }
        foreach ($by as $mac => $groups) {
            $twin = FreeGroup::wellKnownTwin($groups[0]->group);
            if (\count($groups) < 2 && null === $twin) {
                continue;
            }
            $last = $groups[\count($groups) - 1];
            $free = FreeGroup::next($context->plan);
            $at = [
                'names' => implode(', ', array_map(static fn (MulticastGroup $one): string => "$one->name ({$one->group})", $groups)),
                'mac' => $mac,
                'twin' => (string) $twin,
                'name' => $last->name,
                'free' => (string) $free,
            ];
            yield new Finding(
                'groups-share-a-mac',
                \count($groups) > 1 ? Severity::Blocks : Severity::Risk,
                Stage::Networks,
                array_map(static fn (MulticastGroup $one): string => 'groups/'.$one->key, $groups),
                \count($groups) > 1
                    ? new Message('{names} use the same multicast MAC address, {mac}.', $at)
                    : new Message(
                        '{names} uses the multicast MAC address {mac}, as does {twin}, which every host or switch receives.',
                        $at,
                    ),
                new Message('Both groups share a MAC address (low 23 bits), so receivers of one group also get the other at full rate.'),
                null === $free
                    ? new Message('Give {name} another multicast group.', $at)
                    : new Message('Set the multicast group of {name} to {free}.', $at),
                null === $free ? null : new Change(new Message('Multicast group of {name} set to {free}.', $at), [
                    Edit::put('groups', $last->key, 'address', (string) $last->group, (string) $free),
                ]),
            );
        }
    }
}
