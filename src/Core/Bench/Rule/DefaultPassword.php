<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Catalogue\LoginPattern;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A device is in service with the password it came with. */
final class DefaultPassword implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->devices as $device) {
            $credential = $context->plan->credential('devices/'.$device->key, 'admin');
            $addressed = true === $device->nic()?->isApplied() && !$device->kind->has(Role::Workstation);
            // A phone gets its password with its file; before that there is nothing to reproach it with.
            $due = $device->kind->has(Role::FileClient) ? RunSheet::of($context->plan, $device)->has(Effect::PutsInService) : $addressed;
            // A login that the customer holds cannot be changed here.
            $isOurs = $device->kind->login->exists() && LoginPattern::Held !== $device->kind->login->pattern
                && '' === ($credential->heldBy ?? '');
            if ($due && $isOurs && (null === $credential || $credential->isDefault)) {
                yield new Finding(
                    'default-password',
                    Severity::Risk,
                    Stage::Bench,
                    ['devices/'.$device->key],
                    new Message('{tag} is in service with its factory password.', ['tag' => $device->tag]),
                    new Message('Anyone who can reach it can look up the factory password.'),
                    new Message('Change the password of {tag} and mark the step.', ['tag' => $device->tag]),
                );
            }
        }
    }
}
