<?php

declare(strict_types=1);

namespace Vorhut\Core\Bench\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Net\Mac;
use Vorhut\Core\Text\Message;

/** A device says of a setting what that setting cannot be. */
final class OddAnswer implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->slots() as [$device, $slot]) {
            $odd = $slot->value->odd;
            // Of a certificate, and of a stranger at the address, there is more to say.
            $isStranger = 'address' === $slot->setting->name && null !== Mac::tryFromString($odd ?? '');
            if (null === $odd || $isStranger || CertificateChanged::SETTING === $slot->setting->name) {
                continue;
            }
            $at = ['tag' => $device->tag, 'field' => new Message($slot->label()), 'odd' => $odd];
            yield new Finding(
                'odd-answer',
                Severity::Risk,
                Stage::Proof,
                array_values(array_unique([$device->record(), $slot->ref->record()])),
                new Message('{tag} reports "{odd}" for {field}, which is not a valid value.', $at),
                new Message(
                    'Another device may have this address, or the firmware reports the value in another form. The '
                    .'actual value is not known.',
                ),
                new Message('Open the admin page of {tag}, and compare serial number and firmware with the roster.', $at),
                null,
                $slot->local,
            );
        }
    }
}
