<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** An address inside a DHCP pool is also assigned as static. */
final class StaticInsidePool implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->nics() as [$device, $nic]) {
            $segment = $context->plan->segments[$nic->segment ?? ''] ?? null;
            $address = $nic->plannedAddress();
            $pool = null === $address ? null : $segment?->poolWith($address);
            if (null === $segment || null === $pool || $nic->reserved) {
                continue;
            }
            $free = FreeAddress::on($context->plan, $segment, $nic)->next($device->kind->code);
            $at = ['tag' => $device->tag, 'address' => (string) $address, 'pool' => (string) $pool, 'free' => (string) $free];
            yield new Finding(
                'static-inside-pool',
                Severity::Risk,
                Stage::Devices,
                ['devices/'.$device->key, 'nics/'.$nic->key],
                new Message('{tag} is planned with {address}, which is in the DHCP pool {pool}.', $at),
                new Message('The DHCP server can lease the address to another device. Then connections to both drop.'),
                null === $free
                    ? new Message('Extend the address range for this device type, or take {address} out of the pool.', $at)
                    : new Message('Change the address of {tag} to {free}.', $at),
                null === $free ? null : new Change(new Message('Address of {tag} changed from {address} to {free}.', $at), [
                    Edit::setting($nic->record().'#address', Face::Planned, (string) $address, (string) $free),
                ]),
            );
        }
    }
}
