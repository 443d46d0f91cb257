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

/** Masks differ between peers of one segment. */
final class MasksDiffer implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->nics() as [$device, $nic]) {
            $segment = $ground->plan->segments[$nic->segment ?? ''] ?? null;
            $planned = $nic->mask->planned;
            if (null === $segment || null === $planned || $planned === (string) $segment->network->mask || 'laptop' === $device->kind->family) {
                continue;
            }
            $at = ['tag' => $device->tag, 'mask' => $planned, 'segment' => $segment->name, 'right' => (string) $segment->network->mask];
            yield new Finding(
                'masks-differ',
                Weight::Blocks,
                Stage::Networks,
                ['devices/'.$device->key, 'nics/'.$nic->key],
                new Message('{tag} is planned with mask {mask}, {segment} has {right}.', $at),
                new Message('Where masks differ one side talks and the other cannot answer.'),
                new Message('Plan {tag} with {right}.', $at),
                new Change(new Message('{tag} gets the mask {right}.', $at), [Edit::value('nics/'.$nic->key, 'mask', Face::Planned, $planned, (string) $segment->network->mask)]),
            );
        }
    }
}
