<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;

/** One MAC stands at two devices. */
final class DuplicateMac implements Rule
{
    public function find(Ground $ground): iterable
    {
        $pairs = [];
        foreach ($ground->plan->devices as $device) {
            foreach ($device->nics as $nic) {
                $pairs[] = [(string) $nic->mac, $device];
            }
        }
        foreach (Ground::shared($pairs) as $mac => $devices) {
            $at = ['mac' => (string) $mac, 'tags' => implode(', ', array_map(static fn ($device): string => $device->tag, $devices))];
            yield new Finding(
                'duplicate-mac',
                Weight::Blocks,
                Stage::Devices,
                array_values(array_unique(array_map(static fn ($device): string => 'devices/'.$device->key, $devices))),
                new Message('{mac} stands at {tags}.', $at),
                new Message("Reservation, registrar entry and provisioning file go by the MAC: one of the two gets the other's."),
                new Message('Read both labels again.'),
            );
        }
    }
}
