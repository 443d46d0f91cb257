<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Allocation\FreeAddress;
use Vorhut\Core\Allocation\NamedAddresses;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Text\Message;

/** A device is planned with an address that the job names for something else: a server, a gateway, an outpost. */
final class AddressInUse implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $routers = [];
        foreach ($context->plan->routerPorts as $port) {
            $routers[$port->address->number] = true;
        }
        foreach ($context->nics() as [$device, $nic]) {
            $address = $nic->plannedAddress();
            $mayHold = $device->kind->has(Role::Forwards) || $device->kind->has(Role::Workstation);
            // Two ports that hold one address are another finding.
            if (null === $address || $mayHold || isset($routers[$address->number])) {
                continue;
            }
            $uses = NamedAddresses::besides($context->plan, $device, $address);
            if ([] !== $uses) {
                yield self::finding($context, $device, $nic, (string) $address, $uses[0]);
            }
        }
    }

    private static function finding(RuleContext $context, Device $device, Nic $nic, string $address, Message $use): Finding
    {
        $segment = $context->plan->segments[$nic->segment ?? ''] ?? null;
        $free = null === $segment || $nic->isApplied() ? null : FreeAddress::on($context->plan, $segment)->next($device->kind->code);
        $at = ['tag' => $device->tag, 'address' => $address, 'use' => $use, 'free' => (string) $free];

        return new Finding(
            'address-in-use',
            Severity::Blocks,
            Stage::Devices,
            [$device->record()],
            new Message('{tag} is planned with {address}, which is {use}.', $at),
            new Message('Two devices use one address: connections to both drop, and you cannot tell which one answers.'),
            null === $free ? new Message('Give {tag} another address.', $at) : new Message('Change the address of {tag} to {free}.', $at),
            null === $free ? null : new Change(new Message('Address of {tag} set to {free}.', $at), [Edit::setting(
                $nic->record().'#address',
                Face::Planned,
                $nic->setting('address')->own(Face::Planned),
                (string) $free,
            )]),
        );
    }
}
