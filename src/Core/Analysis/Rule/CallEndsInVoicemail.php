<?php

declare(strict_types=1);

namespace Vorhut\Core\Analysis\Rule;

use Vorhut\Core\Analysis\Proof;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Catalogue\Effect;
use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\RuleContext;
use Vorhut\Core\Finding\Severity;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Network\Walk\NetworkAsSet;
use Vorhut\Core\Plan\Terminal;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Text\Message;
use Vorhut\Core\Voice\Registration;

/** A call goes to voicemail because no device is registered, and is taken for a pass. */
final class CallEndsInVoicemail implements Rule
{
    public function find(RuleContext $context): iterable
    {
        foreach ($context->plan->extensions as $extension) {
            $phone = $context->plan->devices[$extension->phone ?? ''] ?? null;
            if (
                !$extension->voicemail
                || 'sip' !== $extension->terminal
                || (null !== $phone
                    && !RunSheet::of($context->plan, $phone)->has(Effect::Provisions)
                    && null === $phone->setting('provisioning')->set)
            ) {
                continue;
            }
            $registration = Registration::of(NetworkAsSet::of($context), $extension);
            $others = array_filter(
                $context->plan->terminalsOf($extension->key),
                static fn (Terminal $one): bool => Registration::of(NetworkAsSet::of($context), $extension, $one->device)->holds,
            );
            if ($registration->holds || [] !== $others) {
                continue;
            }
            yield new Finding(
                'call-ends-in-voicemail',
                Severity::Risk,
                Stage::Services,
                ['extensions/'.$extension->key, ...(null === $phone ? [] : ['devices/'.$phone->key])],
                new Message('Calls to {number} end in voicemail: {why}', [
                    'number' => $extension->number,
                    'why' => (string) $registration->why,
                ]),
                new Message('The call is answered, so it looks like a pass, but the phone never rings.'),
                new Message('Fix the registration of the phone. A test call passes only if the phone itself answers.'),
            );
        }
        foreach (Proof::inContext($context)->results as $result) {
            if (Outcome::Voicemail === $result->observedOutcome() && Outcome::Voicemail !== $result->test->expectedOutcome()) {
                yield new Finding(
                    'call-ends-in-voicemail',
                    Severity::Blocks,
                    Stage::Proof,
                    ['devices/'.$result->test->to, 'tests/'.$result->test->key],
                    new Message('A test call to {called} was answered by voicemail.', ['called' => (string) $result->test->called]),
                    new Message('The call is answered, so it looks like a pass, but the phone never rings.'),
                    new Message('Check that the phone is registered, then call again.'),
                );
            }
        }
    }
}
