<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;

/** Old provisioning server, user or password were left on a phone. */
final class OldProvisioning implements Rule
{
    public const GROUP = 'provisioning';

    public function find(RuleContext $context): iterable
    {
        foreach ($context->slots() as [$device, $slot]) {
            if (self::GROUP !== $slot->setting->group) {
                continue;
            }
            // An unplanned user name must be removed.
            $wanted = $slot->value->planned ?? ($slot->setting->blank && $device->kind->has(Role::FileClient) ? '' : null);
            if (null === $slot->value->set || null === $wanted || $slot->value->set === $wanted) {
                continue;
            }
            $at = [
                'tag' => $device->tag,
                'set' => $slot->value->set,
                'wanted' => '' === $wanted ? new Message('(empty)') : $wanted,
                'what' => new Message($slot->label()),
            ];
            yield new Finding(
                'old-provisioning',
                Severity::Blocks,
                Stage::Services,
                [$device->record()],
                new Message('{tag}: {what} is still "{set}" instead of {wanted}.', $at),
                new Message('The new server rejects the old value, so the phone keeps its old configuration.'),
                new Message('Set {what} of {tag} to {wanted}.', $at),
                new Change(new Message('{tag}: {what} set to {wanted}.', $at), [
                    Edit::setting($slot->ref, Face::Set, $slot->value->set, $wanted),
                ]),
            );
        }
    }
}
