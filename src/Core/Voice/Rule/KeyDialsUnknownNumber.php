<?php

declare(strict_types=1);

namespace Vorhut\Core\Voice\Rule;

use Vorhut\Core\Catalogue\ValueType;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\CallRoutingEnd;
use Vorhut\Core\Voice\Switching;

/** A key next to the display of a phone dials a number that does not exist, or that this phone may not dial. */
final class KeyDialsUnknownNumber implements Rule
{
    private const NOWHERE = [CallRoutingEnd::Unknown, CallRoutingEnd::Incomplete, CallRoutingEnd::Denied, CallRoutingEnd::Loop];

    public function find(RuleContext $context): iterable
    {
        $plan = $context->plan;
        foreach ($plan->devices as $phone) {
            $extension = $plan->extensionsOf($phone->key)[0] ?? null;
            if (null === $extension || null === $phone->kind->setting('speedKeys')) {
                continue;
            }
            foreach (ValueType::List->parts($phone->setting('speedKeys')->effective(Face::Set) ?? '') as $n => $digits) {
                $routing = Switching::of($plan)->dial($extension, $digits);
                if (!\in_array($routing->end, self::NOWHERE, true)) {
                    continue;
                }
                $at = ['tag' => $phone->tag, 'n' => $n + 1, 'digits' => $digits, 'why' => $routing->last()->text];
                yield new Finding(
                    'key-dials-unknown-number',
                    Severity::Risk,
                    Stage::Services,
                    [$phone->record(), 'extensions/'.$extension->key],
                    new Message('Key {n} of {tag} dials {digits}: {why}', $at),
                    new Message('The key does not work, and nobody notices until a user needs it.'),
                    new Message('Assign a number that is answered to key {n} of {tag}, or clear the key.', $at),
                    null,
                    (string) $n,
                );
            }
        }
    }
}
