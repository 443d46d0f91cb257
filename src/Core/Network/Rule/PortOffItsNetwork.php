<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Ipv4;
use Vorhut\Core\Net\Mask;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Nic;
use Vorhut\Core\Plan\Segment;
use Vorhut\Core\Plan\SettingChange;
use Vorhut\Core\Text\Message;

/** The plan itself gives a port what its wire does not have: an address of elsewhere, another mask, a gateway that no router holds. */
final class PortOffItsNetwork implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->nics() as [$device, $nic]) {
            $segment = $context->plan->segments[$nic->segment ?? ''] ?? null;
            if (null === $segment || $nic->pooled || $device->kind->has(Role::Workstation) || $device->kind->has(Role::Forwards)) {
                continue;
            }
            yield from $this->address($device, $nic, $segment);
            yield from $this->mask($device, $nic, $segment);
            yield from $this->gateway($context, $device, $nic, $segment);
        }
    }

    /** @return iterable<Finding> */
    private function address(Device $device, Nic $nic, Segment $segment): iterable
    {
        $address = $nic->plannedAddress();
        if (null === $address || ($segment->network->contains($address) && !$segment->network->isEdge($address))) {
            return;
        }
        $at = ['tag' => $device->tag, 'address' => (string) $address, 'segment' => $segment->name, 'network' => (string) $segment->network];
        yield new Finding(
            'address-off-its-network',
            Severity::Blocks,
            Stage::Devices,
            [$device->record(), $nic->record()],
            $segment->network->contains($address)
                ? new Message('{tag} is planned with {address}, the first or last address of {network}.', $at)
                : new Message('{tag} is planned with {address} on {segment}, which is {network}.', $at),
            new Message('Other devices of the segment cannot reach it, and it cannot reach its gateway.'),
            new Message('Give {tag} an address of {network}, or move it to the right segment.', $at),
        );
    }

    /** @return iterable<Finding> */
    private function mask(Device $device, Nic $nic, Segment $segment): iterable
    {
        $planned = $nic->setting('mask')->planned;
        $mask = null === $planned ? null : Mask::tryFromString($planned);
        if (null === $mask || null === $nic->plannedAddress() || $mask->prefix === $segment->network->mask->prefix) {
            return;
        }
        $wanted = (string) $segment->network->mask;
        $at = ['tag' => $device->tag, 'mask' => (string) $mask, 'segment' => $segment->name, 'wanted' => $wanted];
        yield new Finding(
            'mask-other-than-network',
            Severity::Blocks,
            Stage::Devices,
            [$device->record(), $nic->record()],
            new Message('{tag} is planned with the mask {mask}, but {segment} has {wanted}.', $at),
            $mask->prefix < $segment->network->mask->prefix
                ? new Message('It treats devices of other segments as local, so its packets to them never reach the router.')
                : new Message('It treats devices of its own segment as remote, so its packets to them go to the gateway or are lost.'),
            new Message('Set the mask of {tag} to {wanted}.', $at),
            new Change(
                new Message('Mask of {tag} set to {wanted}.', $at),
                SettingChange::toHold($nic->record().'#mask', $nic->setting('mask'), $wanted, Face::Set),
            ),
        );
    }

    /** @return iterable<Finding> */
    private function gateway(RuleContext $context, Device $device, Nic $nic, Segment $segment): iterable
    {
        $gateway = Ipv4::tryFromString($nic->setting('gateway')->planned ?? '');
        // What the whole segment is told wrongly is told once, at the segment.
        if (null === $gateway || null === $segment->gateway || $gateway->equals($segment->gateway) || null === $nic->plannedAddress()) {
            return;
        }
        foreach (NetworkAsSet::of($context)->holders($segment->key, $gateway) as $holder) {
            if ($holder->forwards) {
                return;
            }
        }
        // A router of the job sends by it: it is a router of the administrator's, outside this job.
        foreach ($context->plan->routes as $route) {
            if ($route->via->equals($gateway)) {
                return;
            }
        }
        $at = [
            'tag' => $device->tag,
            'gateway' => (string) $gateway,
            'segment' => $segment->name,
            'wanted' => (string) $segment->gateway,
        ];
        yield new Finding(
            'gateway-not-found',
            Severity::Blocks,
            Stage::Devices,
            [$device->record(), $nic->record()],
            new Message('{tag} is planned with the gateway {gateway}, but no router on {segment} has this address.', $at),
            new Message('Requests from other subnets arrive, but replies are lost.'),
            new Message('Set the gateway of {tag} to {wanted}.', $at),
            new Change(
                new Message('Gateway of {tag} set to {wanted}.', $at),
                SettingChange::toHold($nic->record().'#gateway', $nic->setting('gateway'), (string) $segment->gateway, Face::Set),
            ),
        );
    }
}
