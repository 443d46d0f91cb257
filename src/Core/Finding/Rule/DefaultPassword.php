<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;

/** A default password was left, or a SIP secret is weak. */
final class DefaultPassword implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->devices as $device) {
            $credential = $ground->plan->credential('devices/'.$device->key, 'admin');
            $addressed = true === $device->nic()?->isApplied() && 'laptop' !== $device->kind->family;
            // A phone gets its password with its file; before that there is nothing to reproach it with.
            $due = $device->kind->isPhone() ? $ground->sheet($device)->isMarked('registered') : $addressed;
            if ($due && '' !== $device->kind->loginUser && (null === $credential || $credential->isDefault)) {
                yield new Finding(
                    'default-password',
                    Weight::Risk,
                    Stage::Bench,
                    ['devices/'.$device->key],
                    new Message('{tag} is in service with the password it came with.', ['tag' => $device->tag]),
                    new Message('Everybody who can reach it can look up the default.'),
                    new Message('Change it at {tag} and mark the step.', ['tag' => $device->tag]),
                );
            }
        }
        foreach ($ground->plan->credentials as $credential) {
            if ('sip' === $credential->purpose && null !== $credential->weakness) {
                yield new Finding(
                    'weak-secret',
                    Weight::Risk,
                    Stage::Services,
                    [$credential->owner],
                    new Message('The SIP secret of {user} is weak: {why}.', ['user' => $credential->user, 'why' => $credential->weakness]),
                    new Message("Guessed accounts call abroad at the customer's cost."),
                    new Message('Generate a new one.'),
                );
            }
        }
    }
}
