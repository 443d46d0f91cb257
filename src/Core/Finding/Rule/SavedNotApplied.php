<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;

/** Changes were saved but not applied, or applied and the device not restarted. */
final class SavedNotApplied implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->nics() as [$device, $nic]) {
            foreach (['address', 'mask', 'gateway', 'dns'] as $field) {
                $value = $nic->value($field);
                if (null === $value->set || null === $value->seen || $value->set === $value->seen) {
                    continue;
                }
                $at = ['tag' => $device->tag, 'field' => $field, 'set' => '' === $value->set ? '(blank)' : $value->set, 'seen' => '' === $value->seen ? '(blank)' : $value->seen];
                yield new Finding(
                    'saved-not-applied',
                    Weight::Blocks,
                    Stage::Proof,
                    ['devices/'.$device->key, 'nics/'.$nic->key],
                    new Message('{tag} was told {field} {set}, and says it has {seen}.', $at),
                    new Message('What was saved and not applied is gone at the next power cut; what was applied without a restart is not in force yet.'),
                    new Message('Apply, restart {tag}, wait, and look again.', $at),
                );
            }
        }
    }
}
