<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Text\Message;

/** The gateway is blank on a segment that has a router: of one device, or of the whole segment in the plan. */
final class GatewayLeftBlank implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->segments as $segment) {
            $port = null === $segment->gateway && $segment->routed ? NetworkAsSet::of($context)->portOn($segment->key) : null;
            if (
                null === $port
                || [] === array_filter($context->nics(), static fn (array $pair): bool => $pair[1]->segment === $segment->key)
            ) {
                continue;
            }
            $at = [
                'segment' => $segment->name,
                'gateway' => (string) $port->address,
                'router' => $context->plan->devices[$port->router]->tag ?? $port->router,
            ];
            yield new Finding(
                'gateway-blank',
                Severity::Blocks,
                Stage::Networks,
                ['segments/'.$segment->key],
                new Message('{segment} has no gateway in the plan, although {router} is there at {gateway}.', $at),
                new Message('Its devices get no gateway either: requests from other subnets arrive, but replies are lost.'),
                new Message('Set the gateway of {segment} to {gateway}.', $at),
                new Change(new Message('Gateway of {segment} set to {gateway}.', $at), [
                    Edit::put('segments', $segment->key, 'gateway', null, (string) $port->address),
                ]),
            );
        }
        foreach ($context->nics() as [$device, $nic]) {
            $gateway = $context->plan->segments[$nic->segment ?? '']->gateway ?? null;
            $face = match (true) {
                '' === $nic->setting('gateway')->set => Face::Set,
                null === $nic->setting('gateway')->set
                    && '' === $nic->setting('gateway')->planned
                    && null !== $nic->plannedAddress() => Face::Planned,
                default => null,
            };
            // A host has one way out: with a gateway on another of its ports this one is rightly blank.
            $other = [] !== array_filter(
                $device->activeNics(),
                static fn (Nic $one): bool => $one !== $nic && !\in_array($one->setting('gateway')->effective(Face::Set), [null, ''], true),
            );
            if (null === $gateway || null === $face || $other || $device->kind->has(Role::Workstation)) {
                continue;
            }
            $at = ['tag' => $device->tag, 'gateway' => (string) $gateway];
            yield new Finding(
                'gateway-blank',
                Severity::Blocks,
                Face::Set === $face ? Stage::Bench : Stage::Networks,
                ['devices/'.$device->key, 'nics/'.$nic->key],
                new Message('{tag} has no gateway; that of its segment is {gateway}.', $at),
                new Message('Requests from other subnets arrive, but replies are lost.'),
                new Message('Set the gateway of {tag} to {gateway}.', $at),
                new Change(new Message('Gateway of {tag} set to {gateway}.', $at), [
                    ...('' === $nic->setting('gateway')->planned ? [
                        Edit::setting($nic->record().'#gateway', Face::Planned, '', (string) $gateway),
                    ] : []),
                    ...(Face::Set === $face ? [Edit::setting($nic->record().'#gateway', Face::Set, '', (string) $gateway)] : []),
                ]),
            );
        }
    }
}
