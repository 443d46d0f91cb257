<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Text\Message;

/** A phone, analogue ones included, has no dispatchable location for emergency calls. */
final class NoEmergencyLocation implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->extensions as $extension) {
            if ('' !== $extension->location || (null === $extension->phone && 'analogue' !== $extension->terminal)) {
                continue;
            }
            $device = $extension->phone ?? (string) $extension->pbx;
            $tag = null === $extension->phone ? new Message('analogue') : $context->plan->devices[$extension->phone]->tag ?? '?';
            yield new Finding(
                'no-emergency-location',
                Severity::Blocks,
                Stage::Services,
                ['extensions/'.$extension->key, 'devices/'.$device],
                new Message('{number} ({tag}) has no location for emergency calls.', ['number' => $extension->number, 'tag' => $tag]),
                new Message('Help is sent to the wrong place. Local codes define what the location must contain.'),
                new Message(
                    'Enter address, floor and room before the phone goes live. Never make a test call to the emergency '
                    .'centre without arrangement.',
                ),
            );
        }
    }
}
