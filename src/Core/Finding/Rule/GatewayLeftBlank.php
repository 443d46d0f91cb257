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

/** The gateway is blank on a segment that has one. */
final class GatewayLeftBlank implements Rule
{
    public function find(Ground $ground): iterable
    {
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
