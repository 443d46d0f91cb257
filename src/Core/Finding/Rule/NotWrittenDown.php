<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;

/** Nobody wrote down what was put into a device, by whom, with which firmware. */
final class NotWrittenDown implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->devices as $device) {
            $address = $device->nic()?->address;
            if (null === $address?->set || 'laptop' === $device->kind->family) {
                continue;
            }
            $missing = [];
            if (null === $address->setBy || '' === $address->setBy) {
                $missing[] = 'who set it';
            }
            if ($device->kind->firmwareWanted && $ground->sheet($device)->isDone() && null === $device->value('firmware')->set && null === $device->value('firmware')->seen) {
                $missing[] = 'its firmware';
            }
            if ([] !== $missing) {
                yield new Finding(
                    'not-written-down',
                    Weight::Note,
                    Stage::Handover,
                    ['devices/'.$device->key],
                    new Message('Of {tag} is not written down: {missing}.', ['tag' => $device->tag, 'missing' => implode(', ', $missing)]),
                    new Message('The next visit starts again from nothing.'),
                    new Message('Read it from the status page and write it down.'),
                );
            }
        }
    }
}
