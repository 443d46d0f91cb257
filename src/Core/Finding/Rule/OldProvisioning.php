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

/** Old provisioning server, user or password were left on a phone. */
final class OldProvisioning implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->devices as $device) {
            foreach (['provisioning', 'provisioningUser'] as $field) {
                $value = $device->value($field);
                $wanted = $value->planned ?? ('provisioningUser' === $field && $device->kind->isPhone() ? '' : null);
                if (null === $value->set || null === $wanted || $value->set === $wanted) {
                    continue;
                }
                $at = ['tag' => $device->tag, 'set' => $value->set, 'wanted' => '' === $wanted ? '(empty)' : $wanted, 'what' => 'provisioning' === $field ? 'provisioning server' : 'provisioning user'];
                yield new Finding(
                    'old-provisioning',
                    Weight::Blocks,
                    Stage::Services,
                    ['devices/'.$device->key],
                    new Message('{tag} still has the {what} "{set}", wanted is {wanted}.', $at),
                    new Message('The new server is asked with the old name, refuses it, and the phone stays as it is.'),
                    new Message('Set the {what} of {tag} to {wanted}.', $at),
                    new Change(new Message('{tag}: {what} set to {wanted}.', $at), [Edit::value('devices/'.$device->key, $field, Face::Set, $value->set, $wanted)]),
                );
            }
        }
    }
}
