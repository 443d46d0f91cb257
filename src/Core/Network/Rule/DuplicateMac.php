<?php

declare(strict_types=1);

namespace Vorhut\Core\Network\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** One MAC stands at two devices. */
final class DuplicateMac implements Rule
{
    public function find(RuleContext $context): iterable
    {
        $pairs = [];
        foreach ($context->plan->devices as $device) {
            foreach ($device->nics as $nic) {
                $pairs[] = [(string) $nic->mac, $device];
            }
        }
        foreach (RuleContext::duplicates($pairs) as $mac => $devices) {
            $at = ['mac' => (string) $mac, 'tags' => implode(', ', array_map(static fn ($device): string => $device->tag, $devices))];
            yield new Finding(
                'duplicate-mac',
                Severity::Blocks,
                Stage::Devices,
                array_values(array_unique(array_map(static fn ($device): string => 'devices/'.$device->key, $devices))),
                new Message('{tags} have the same MAC address, {mac}.', $at),
                new Message(
                    'DHCP reservation, registrar entry and provisioning file depend on the MAC address: one device gets '
                    .'those of the other.',
                ),
                new Message('Read the MAC address on both labels again.'),
            );
        }
    }
}
