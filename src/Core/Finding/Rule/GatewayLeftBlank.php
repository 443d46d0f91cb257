<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Message;

/** The gateway is blank on a segment that has a router: of one device, or of the whole segment in the plan. */
final class GatewayLeftBlank implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->segments as $segment) {
            $port = null === $segment->gateway ? $ground->fabric()->portOn($segment->key) : null;
            if (null === $port || [] === array_filter($ground->nics(), static fn (array $pair): bool => $pair[1]->segment === $segment->key)) {
                continue;
            }
            $at = ['segment' => $segment->name, 'gateway' => (string) $port->address, 'router' => $ground->plan->devices[$port->router]->tag ?? $port->router];
            yield new Finding(
                'gateway-blank',
                Weight::Blocks,
                Stage::Networks,
                ['segments/'.$segment->key],
                new Message('{segment} has no gateway in the plan, and {router} is on it at {gateway}.', $at),
                new Message('Its devices get none either, and are deaf to other subnets: requests arrive, answers cannot leave.'),
                new Message('Plan {gateway} as gateway of {segment}.', $at),
                new Change(new Message('{segment} gets the gateway {gateway}.', $at), [Edit::put('segments', $segment->key, 'gateway', null, (string) $port->address)]),
            );
        }
        foreach ($ground->nics() as [$device, $nic]) {
            $gateway = $ground->plan->segments[$nic->segment ?? '']->gateway ?? null;
            $face = '' === $nic->gateway->set ? Face::Set : (null === $nic->gateway->set && '' === $nic->gateway->planned && null !== $nic->plannedAddress() ? Face::Planned : null);
            if (null === $gateway || null === $face || 'laptop' === $device->kind->family) {
                continue;
            }
            $at = ['tag' => $device->tag, 'gateway' => (string) $gateway];
            yield new Finding(
                'gateway-blank',
                Weight::Blocks,
                Face::Set === $face ? Stage::Bench : Stage::Networks,
                ['devices/'.$device->key, 'nics/'.$nic->key],
                new Message('{tag} has no gateway, and its segment has one: {gateway}.', $at),
                new Message('It is deaf to other subnets: requests arrive, answers cannot leave.'),
                new Message('Give {tag} the gateway {gateway}.', $at),
                new Change(new Message('{tag} gets the gateway {gateway}.', $at), [
                    ...('' === $nic->gateway->planned ? [Edit::value('nics/'.$nic->key, 'gateway', Face::Planned, '', (string) $gateway)] : []),
                    ...(Face::Set === $face ? [Edit::value('nics/'.$nic->key, 'gateway', Face::Set, '', (string) $gateway)] : []),
                ]),
            );
        }
    }
}
